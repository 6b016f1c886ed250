import { MaskSchema, type MaskRefinement, type Shape } from '../../../masks/schema'
import { AreaStepsSchema, type AreaSteps } from '../schema'
import type { z } from 'zod'
import {
  aroundMiddle,
  darkerThan,
  far,
  found,
  fromTop,
  lighterThan,
  without,
  type Scene,
  type Thing,
} from './scene'

/** An area that is fitted to a picture by itself, and an ordinary one afterwards. */
export interface ReadyArea {
  id: string
  name: string
  /** What it does, in a few words. */
  about: string
  /** What the picture must have. */
  needs: readonly Thing[]
  /** How far the picture's tones have to reach from the middle, EV; any where missing. */
  reach?: { dark?: number; light?: number }
  shapes(scene: Scene): Shape[]
  start?: 'nothing' | 'everything'
  refined?: Partial<MaskRefinement>
  steps: z.input<typeof AreaStepsSchema>
}

/** Masks of tones go with the things that they lie on. */
const BY_THINGS: Partial<MaskRefinement> = { edges: 0.008, softness: 0.004 }

/** In the order in which they are offered: from the sky down, from far to near, then light and shade. */
export const READY_AREAS: readonly ReadyArea[] = [
  {
    id: 'sky-top',
    name: 'Hold the sky’s top',
    about: 'Darker towards the top',
    needs: ['sky'],
    shapes: (scene) => [found('sky'), fromTop(scene, 0.75, { way: 'common' })],
    steps: { exposure: { ev: -0.8 } },
  },
  {
    id: 'sky-colour',
    name: 'Colour the sky',
    about: 'Stronger colour',
    needs: ['sky'],
    shapes: () => [found('sky')],
    steps: { colourfulness: { all: 0.1, muted: 0.45 }, exposure: { ev: -0.2 } },
  },
  {
    id: 'clouds',
    name: 'Model the clouds',
    about: 'More form in them',
    needs: ['sky'],
    shapes: () => [found('sky')],
    steps: { relief: { medium: 0.45, broad: 0.5 }, recovery: { amount: 0.25 } },
  },
  {
    id: 'far-clear',
    name: 'Clear the far',
    about: 'Less haze where it is far',
    needs: ['distance'],
    shapes: (scene) => [far(0.5, 1, 0.3), ...without('sky', scene)],
    steps: { haze: { strength: 0.5, depth: -0.5 }, relief: { broad: 0.2 } },
  },
  {
    id: 'far-fade',
    name: 'Let the far fade',
    about: 'Soft and pale far off',
    needs: ['distance'],
    shapes: (scene) => [far(0.55, 1, 0.35), ...without('sky', scene)],
    steps: { relief: { fine: -0.4, medium: -0.3 }, colourfulness: { all: -0.2 }, exposure: { ev: 0.2 } },
  },
  {
    id: 'near-forward',
    name: 'Lead with the near',
    about: 'Form and light up close',
    needs: ['distance'],
    shapes: () => [far(0, 0.25, 0.25)],
    steps: { relief: { fine: 0.2, medium: 0.35 }, exposure: { ev: 0.2 } },
  },
  {
    id: 'ground-form',
    name: 'Work out the ground',
    about: 'Structure underfoot',
    needs: ['ground'],
    shapes: () => [found('ground')],
    steps: { relief: { fine: 0.3, medium: 0.4 }, colourfulness: { muted: 0.15 } },
  },
  {
    id: 'water-deep',
    name: 'Deepen the water',
    about: 'Darker, with more colour',
    needs: ['water'],
    shapes: () => [found('water')],
    steps: { exposure: { ev: -0.5 }, colourfulness: { muted: 0.35 } },
  },
  {
    id: 'water-still',
    name: 'Still the water',
    about: 'Smoother ripples',
    needs: ['water'],
    shapes: () => [found('water')],
    steps: { relief: { fine: -0.7, medium: -0.5 } },
  },
  {
    id: 'subject-lift',
    name: 'Lift the subject',
    about: 'Lighter, with more form',
    needs: ['subject'],
    shapes: () => [found('subject')],
    refined: { softness: 0.002 },
    steps: { exposure: { ev: 0.45 }, relief: { medium: 0.25 } },
  },
  {
    id: 'behind-quiet',
    name: 'Quiet what is behind',
    about: 'The rest steps back',
    needs: ['subject'],
    start: 'everything',
    shapes: () => [found('subject', { way: 'take' })],
    steps: { exposure: { ev: -0.35 }, colourfulness: { all: -0.25 }, relief: { fine: -0.25 } },
  },
  {
    id: 'shade-open',
    name: 'Open the shade',
    about: 'Lighter where it is dark',
    needs: [],
    reach: { dark: 1.2 },
    shapes: ({ tones }) => [darkerThan((tones.dark + tones.middle) / 2, 1)],
    refined: BY_THINGS,
    steps: { exposure: { ev: 0.8 } },
  },
  {
    id: 'shade-cool',
    name: 'Cool the shade',
    about: 'Bluer where it is dark',
    needs: [],
    reach: { dark: 1.2 },
    shapes: ({ tones }) => [darkerThan((tones.dark + tones.middle) / 2, 1.2)],
    refined: BY_THINGS,
    steps: { light: { warmth: -28 } },
  },
  {
    id: 'lit-warm',
    name: 'Warm the lit side',
    about: 'Warmer where light falls',
    needs: [],
    reach: { light: 0.8 },
    shapes: (scene) => [lighterThan(scene.tones.middle, 1.5), ...without('sky', scene)],
    refined: BY_THINGS,
    steps: { light: { warmth: 32 }, exposure: { ev: 0.1 } },
  },
  {
    id: 'light-glow',
    name: 'Glow around the light',
    about: 'A soft, warm shine',
    needs: [],
    reach: { light: 1 },
    shapes: ({ tones }) => [lighterThan(tones.light - 0.5, 0.6)],
    refined: { grow: 0.012, softness: 0.06 },
    steps: { exposure: { ev: 0.35 }, light: { warmth: 14 }, relief: { fine: -0.5, medium: -0.4 } },
  },
  {
    id: 'edges-calm',
    name: 'Calm the edges',
    about: 'Darker all around',
    needs: [],
    start: 'everything',
    shapes: (scene) => [aroundMiddle(scene, 1.25, 0.7, { way: 'take' })],
    steps: { exposure: { ev: -0.6 }, colourfulness: { all: -0.12 } },
  },
]

/** All that has to be looked for, each once. */
export const READY_NEEDS: readonly Thing[] = [...new Set(READY_AREAS.flatMap(({ needs }) => needs))]

/** Whether a picture has what a ready area needs. */
export const fits = ({ needs, reach }: ReadyArea, { tones, things }: Scene): boolean =>
  needs.every((thing) => things.has(thing)) &&
  tones.middle - tones.dark >= (reach?.dark ?? -Infinity) &&
  tones.light - tones.middle >= (reach?.light ?? -Infinity)

/** What a ready area is in a picture: ordinary settings of an area. */
export const made = ({ name, start, shapes, refined, steps }: ReadyArea, scene: Scene) => ({
  name,
  mask: MaskSchema.parse({ start, shapes: shapes(scene), refined }),
  steps: AreaStepsSchema.parse(steps) as AreaSteps,
})

/** Settings for any area, ready to take. */
export interface ReadySteps {
  id: string
  name: string
  steps: z.input<typeof AreaStepsSchema>
}

/** In the order in which they are offered. */
export const READY_STEPS: readonly ReadySteps[] = [
  { id: 'lighter', name: 'Lighter', steps: { exposure: { ev: 0.6 } } },
  { id: 'darker', name: 'Darker', steps: { exposure: { ev: -0.6 } } },
  { id: 'warmer', name: 'Warmer', steps: { light: { warmth: 30 } } },
  { id: 'cooler', name: 'Cooler', steps: { light: { warmth: -30 } } },
  { id: 'richer', name: 'More colour', steps: { colourfulness: { all: 0.15, muted: 0.35 } } },
  { id: 'paler', name: 'Less colour', steps: { colourfulness: { all: -0.4 } } },
  { id: 'firmer', name: 'More form', steps: { relief: { fine: 0.2, medium: 0.45 } } },
  { id: 'softer', name: 'Softer', steps: { relief: { fine: -0.6, medium: -0.35 } } },
]

export const readySteps = ({ steps }: ReadySteps): AreaSteps => AreaStepsSchema.parse(steps)
