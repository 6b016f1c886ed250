import { lookById } from '../../steps'
import { inGroup } from './make'
import type { ShippedPreset } from './shipped'

const whole = inGroup('Whole looks')

/** A look of our own as the step holds it. */
const look = (id: string) => ({ kind: 'own' as const, id, name: lookById(id)!.name })

/** A whole character: tone, colour and paper. They leave exposure, white balance and the frame as they are. */
export const WHOLE_LOOKS: readonly ShippedPreset[] = [
  whole('calendar', 'Calendar sheet', 'Clear, firm and bright, for print.', {
    steps: {
      baseRendering: { grade: 2.3 },
      tones: { shadows: { lift: 0.2 }, midTones: { lift: 0.1 } },
      relief: { medium: 0.2, broad: 0.1 },
      colourfulness: { all: 0.03, muted: 0.22 },
      look: look('market-day'),
    },
    strength: { look: 0.6 },
  }),
  whole('gallery', 'Gallery wall', 'Restrained, with open shade.', {
    steps: {
      baseRendering: { grade: 1.8 },
      tones: { deepShadows: { lift: 0.25 }, shadows: { lift: 0.3 }, brightHighlights: { lift: -0.2 } },
      look: look('still-water'),
      edgeBurn: { ev: -0.25, begin: 0.5, run: 0.9 },
    },
    strength: { look: 0.5 },
  }),
  whole('dawn-mill', 'Mill at dawn', 'Warm lights over cool shade.', {
    steps: {
      baseRendering: { grade: 1.9 },
      haze: { strength: -0.12 },
      look: look('early-light'),
      edgeBurn: { ev: -0.2, begin: 0.5, run: 0.9 },
    },
  }),
  whole('kiln', 'Kiln yard', 'Earth and brick, firm and deep.', {
    steps: {
      baseRendering: { grade: 2.4 },
      relief: { fine: 0.2, medium: 0.2 },
      look: look('brickyard'),
      edgeBurn: { ev: -0.35, begin: 0.45, run: 0.8 },
    },
  }),
  whole('towpath', 'Towpath', 'Straw greens, soft lights.', {
    steps: {
      baseRendering: { grade: 1.8 },
      look: look('reeds'),
      tones: { highlights: { lift: -0.15 } },
      grain: { strength: 0.1, size: 0.6 },
    },
  }),
  whole('lock-keeper', 'Lock keeper’s lamp', 'Evening: amber over blue.', {
    steps: {
      baseRendering: { grade: 2.1 },
      look: look('oil-lamp'),
      edgeBurn: { ev: -0.5, begin: 0.4, run: 0.9 },
    },
  }),
  whole('account-book', 'Account book', 'Faded, with a paper black and grain.', {
    steps: {
      baseRendering: { grade: 1.6 },
      look: look('ledger'),
      grain: { strength: 0.22, size: 0.8 },
    },
  }),
  whole('ice-canal', 'Canal in ice', 'Pale and cold, with crisp edges.', {
    steps: {
      baseRendering: { grade: 2.2 },
      look: look('hoarfrost'),
      relief: { fine: 0.15 },
    },
  }),
  whole('storm', 'Before the storm', 'Monochrome, dark skies, heavy edges.', {
    steps: {
      look: look('thunder'),
      relief: { medium: 0.3, broad: 0.25 },
      edgeBurn: { ev: -0.6, begin: 0.4, run: 0.9 },
      grain: { strength: 0.2, size: 0.8 },
    },
  }),
  whole('album', 'Family album', 'Warm brown on matte paper.', {
    steps: {
      baseRendering: { grade: 1.7 },
      look: look('tea'),
      edgeBurn: { ev: 0.3, begin: 0.55, run: 0.8 },
      grain: { strength: 0.25, size: 1 },
    },
  }),
  whole('engraving', 'Engraving', 'Hard blacks, few middle tones.', {
    steps: {
      look: look('ink'),
      relief: { fine: 0.35, medium: 0.2 },
    },
  }),
  whole('museum', 'Museum print', 'Selenium, deep and calm.', {
    steps: {
      baseRendering: { grade: 2.2 },
      look: look('archive'),
      relief: { medium: 0.15 },
      edgeBurn: { ev: -0.3, begin: 0.5, run: 0.9 },
    },
  }),
]
