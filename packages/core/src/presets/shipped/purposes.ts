import type { ShippedPreset } from './shipped'
import { asBegun, inGroup } from './make'

const light = inGroup('Light')
const contrast = inGroup('Contrast')
const colour = inGroup('Colour')
const grey = inGroup('Monochrome')
const detail = inGroup('Detail')
const faults = inGroup('Lens and sensor')
const paper = inGroup('Paper and edges')
const found = inGroup('From each picture')
const back = inGroup('Reset')

const once = { scalable: false }

/** Each for one purpose; they combine in any order. */
export const PURPOSES: readonly ShippedPreset[] = [
  light('shade-half', 'Open shadows', 'Shadows two thirds of a stop lighter, lights as they are.', {
    steps: { tones: { deepShadows: { lift: 0.35 }, shadows: { lift: 0.7 } } },
  }),
  light('shade-deep', 'Deepen shadows', 'Shadows half a stop darker.', {
    steps: { tones: { deepShadows: { lift: -0.4 }, shadows: { lift: -0.5 } } },
  }),
  light('lights-hold', 'Hold the lights', 'Brings back what is nearly white.', {
    steps: { recovery: { amount: 0.6 }, tones: { brightHighlights: { lift: -0.4 } } },
  }),
  light('lights-shine', 'Let lights shine', 'Highlights lighter, mid-tones as they are.', {
    steps: { tones: { highlights: { lift: 0.3 }, brightHighlights: { lift: 0.25 } } },
  }),
  light('middle-up', 'Lift the mid-tones', 'A third of a stop in the middle alone.', {
    steps: { tones: { midTones: { lift: 0.35 } } },
  }),
  light('middle-down', 'Lower the mid-tones', 'A third of a stop less in the middle alone.', {
    steps: { tones: { midTones: { lift: -0.35 } } },
  }),
  light('even', 'Even out the light', 'Dark parts lighter, light parts darker.', {
    steps: { evenLighting: { amount: 0.45 } },
  }),
  light('true-black', 'A true black', 'The deepest tones become black.', {
    steps: { points: { black: -6 } },
  }),

  contrast('grade-soft', 'Softer paper', 'Half a grade softer than normal.', {
    steps: { baseRendering: { grade: 1.5 } },
  }),
  contrast('grade-hard', 'Harder paper', 'Half a grade harder than normal.', {
    steps: { baseRendering: { grade: 2.5 } },
  }),
  contrast('relief-fine', 'Bring out texture', 'Brick, bark and cloth.', {
    steps: { relief: { fine: 0.35, medium: 0.1 } },
  }),
  contrast('relief-form', 'Bring out form', 'Gives volume without harder tones.', {
    steps: { relief: { medium: 0.35, broad: 0.15 } },
  }),
  contrast('relief-gentle', 'Smooth texture', 'Skin and still water.', {
    steps: { relief: { fine: -0.45, medium: -0.1 } },
  }),
  contrast('haze-less', 'Clear haze', 'Takes haze out of the distance.', {
    steps: { haze: { strength: 0.4 } },
  }),
  contrast('haze-more', 'Add mist', 'The far steps back.', {
    steps: { haze: { strength: -0.3 } },
  }),

  colour('warmer', 'Warm tint', 'A breath of amber in all tones.', {
    steps: { tints: { stops: [0.25, 0.55, 0.85].map((at) => ({ at, hue: 75, strength: 0.12 })) } },
  }),
  colour('cooler', 'Cool tint', 'A breath of blue in all tones.', {
    steps: { tints: { stops: [0.25, 0.55, 0.85].map((at) => ({ at, hue: 245, strength: 0.12 })) } },
  }),
  colour('richer', 'Fuller colours', 'Muted colours most, skin is spared.', {
    steps: { colourfulness: { all: 0.08, muted: 0.3 } },
  }),
  colour('quieter', 'Quieter colours', 'A third less of all colours.', {
    steps: { colourfulness: { all: -0.33 } },
  }),
  colour('greens-calm', 'Calm the greens', 'Meadows and leaves less loud, toward straw.', {
    nodes: [{ hue: 130, width: 60, shift: -12, colour: -0.25, light: 0 }],
  }),
  colour('blues-deep', 'Deepen the blues', 'Skies and water darker and fuller.', {
    nodes: [{ hue: 250, width: 60, colour: 0.15, light: -0.22 }],
  }),
  colour('reds-earth', 'Earthen reds', 'Brick and rust fuller and darker.', {
    nodes: [{ hue: 40, width: 45, colour: 0.22, light: -0.12 }],
  }),
  colour('split-gentle', 'Warm lights, cool shade', 'A faint tint in both.', {
    steps: {
      tints: {
        stops: [
          { at: 0.25, hue: 250, strength: 0.15 },
          { at: 0.55, hue: 60, strength: 0 },
          { at: 0.85, hue: 80, strength: 0.18 },
        ],
      },
    },
  }),

  grey('grey-plain', 'Monochrome', 'By the light alone, without a filter.', {
    steps: { monochrome: { on: true, filter: 'none' } },
  }),
  grey('grey-yellow', 'Monochrome, yellow filter', 'Skies a little darker.', {
    steps: { monochrome: { on: true, filter: 'yellow', density: 1 } },
  }),
  grey('grey-red', 'Monochrome, red filter', 'Dark skies, light brick.', {
    steps: { monochrome: { on: true, filter: 'red', density: 1 } },
  }),
  grey('grey-green', 'Monochrome, green filter', 'Light leaves, firm skin.', {
    steps: { monochrome: { on: true, filter: 'green', density: 1 } },
  }),
  grey('bath-sepia', 'Sepia bath', 'Brown tones over what is there.', {
    steps: { toning: { toner: 'sepia', strength: 0.6 } },
  }),
  grey('bath-selenium', 'Selenium bath', 'Cool, deep shadows.', {
    steps: { toning: { toner: 'selenium', strength: 0.7 } },
  }),

  detail('noise-auto', 'Clean noise', 'As much as each picture has.', {
    steps: { noise: { mode: 'automatic' } },
  }),
  detail('noise-night', 'Clean noise at night', 'More in the shadows, and the coloured blotches.', {
    steps: { noise: { mode: 'hand', luminance: 1.1, colour: 1.3, blotches: 1.4, tone: 0.4 } },
  }),
  detail('sharp-lens', 'Sharpen', 'Takes back the blur of the lens.', {
    steps: { sharpen: { amount: 0.8, softness: 'lens', radius: 0.8 } },
  }),
  detail('sharp-edges', 'Sharpen edges only', 'Smooth parts stay smooth.', {
    steps: { sharpen: { amount: 0.9, softness: 'lens', radius: 0.9, edges: 0.7 } },
  }),
  detail('sharp-print', 'Sharpen for print', 'More than looks right on screen.', {
    steps: { unsharp: { strength: 1.2, radius: 1.2, threshold: 1.5 } },
  }),

  faults(
    'lens-auto',
    'Correct the lens',
    'By the profile that fits each picture.',
    {
      steps: { lens: { choice: 'automatic' }, fringes: { source: 'profile' } },
    },
    once,
  ),
  faults('edge-colour', 'Remove coloured edges', 'Purple rims of bright edges.', {
    steps: { edgeColour: { amount: 0.8, hue: 310 } },
  }),
  faults('specks', 'Remove specks', 'Single bright pixels of long exposures.', {
    steps: { defects: { specks: 0.6 } },
  }),

  paper('edge-dark', 'Darker edges', 'Half a stop toward the corners.', {
    steps: { edgeBurn: { ev: -0.5, begin: 0.45, run: 0.8 } },
  }),
  paper('edge-light', 'Lighter edges', 'Half a stop toward the corners.', {
    steps: { edgeBurn: { ev: 0.5, begin: 0.5, run: 0.8 } },
  }),
  paper('grain-fine', 'Fine grain', 'Hardly seen, takes the smoothness off.', {
    steps: { grain: { strength: 0.18, size: 0.6 } },
  }),
  paper('grain-coarse', 'Coarse grain', 'As of fast film.', {
    steps: { grain: { strength: 0.4, size: 1.2 } },
  }),

  found('auto-exposure', 'Automatic exposure', 'Found in each picture.', { automatic: ['exposure'] }, once),
  found(
    'auto-tone',
    'Automatic tone',
    'Exposure, points and tones, found in each picture.',
    {
      automatic: ['exposure', 'points', 'tones'],
    },
    once,
  ),
  found('auto-white', 'Automatic white balance', 'Found in each picture.', { automatic: ['white'] }, once),
  found(
    'auto-level',
    'Level by lines',
    'Found in each picture; one without lines stays as it is.',
    {
      automatic: ['level'],
    },
    once,
  ),

  back(
    'back-tone',
    'Reset tone',
    'Exposure, points, tones, curves and contrast as at the start.',
    asBegun(
      'exposure',
      'evenLighting',
      'recovery',
      'tones',
      'points',
      'relief',
      'haze',
      'baseRendering',
      'curve',
      'rangeCurve',
    ),
    once,
  ),
  back(
    'back-colour',
    'Reset colour',
    'Hues, tints, monochrome and look as at the start; white balance stays.',
    asBegun('primaries', 'hueNodes', 'colourfulness', 'tints', 'monochrome', 'toning', 'look'),
    once,
  ),
  back(
    'back-detail',
    'Reset noise and sharpness',
    'As at the start.',
    asBegun('noise', 'sharpen', 'unsharp', 'afterNoise'),
    once,
  ),
  back('back-finish', 'Reset edges and grain', 'As at the start.', asBegun('edgeBurn', 'grain'), once),
]
