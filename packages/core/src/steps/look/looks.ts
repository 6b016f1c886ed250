import { ColourfulnessSchema } from '../colourfulness/schema'
import { CurveSchema } from '../curve/schema'
import { HueNodesSchema, type HueNode } from '../hueNodes/schema'
import { MonochromeSchema, type LensFilter } from '../monochrome/schema'
import { PrimariesSchema } from '../primaries/schema'
import { TintsSchema } from '../tints/schema'
import { ToningSchema, type Toner } from '../toning/schema'
import type { Recipe } from './schema'

/** A look of our own. */
export interface Look {
  id: string
  name: string
  kind: 'colour' | 'monochrome'
  /** What it is for, in a few words. */
  about: string
  recipe: Recipe
}

const nodes = (...some: (Partial<HueNode> & { hue: number })[]) => HueNodesSchema.parse({ nodes: some })
const colour = (all: number, muted = 0) => ColourfulnessSchema.parse({ all, muted })
const line = (...points: [number, number][]) => CurveSchema.parse({ luminance: points })
const lines = (part: object) => CurveSchema.parse(part)
/** Tints of dark, middle and light tones: hue and strength each. */
const tints = (...stops: [at: number, hue: number, strength: number][]) =>
  TintsSchema.parse({ stops: stops.map(([at, hue, strength]) => ({ at, hue, strength })) })
const grey = (filter: LensFilter = 'none', density = 1) =>
  MonochromeSchema.parse({ on: true, filter, density })
const bath = (toner: Toner, strength: number) => ToningSchema.parse({ toner, strength })

/** Looks of our own; an id once given stays what it is, since developments name it. */
export const LOOKS: readonly Look[] = [
  {
    id: 'early-light',
    name: 'Early light',
    kind: 'colour',
    about: 'Warm lights, gentle shade',
    recipe: {
      curve: line([0, 0], [0.25, 0.27], [0.7, 0.73], [1, 1]),
      tints: tints([0.3, 250, 0.12], [0.6, 75, 0.12], [0.85, 80, 0.28]),
      colourfulness: colour(0, 0.15),
    },
  },
  {
    id: 'still-water',
    name: 'Still water',
    kind: 'colour',
    about: 'Cool and held back',
    recipe: {
      tints: tints([0.2, 235, 0.25], [0.55, 220, 0.12], [0.85, 200, 0.08]),
      colourfulness: colour(-0.28),
    },
  },
  {
    id: 'brickyard',
    name: 'Brickyard',
    kind: 'colour',
    about: 'Deep reds and earths',
    recipe: {
      curve: line([0, 0], [0.25, 0.21], [0.7, 0.72], [1, 1]),
      hueNodes: nodes(
        { hue: 40, width: 50, colour: 0.3, light: -0.18 },
        { hue: 250, width: 60, colour: -0.25 },
      ),
    },
  },
  {
    id: 'reeds',
    name: 'Reeds',
    kind: 'colour',
    about: 'Greens toward straw',
    recipe: {
      hueNodes: nodes(
        { hue: 130, width: 55, shift: -22, colour: -0.2 },
        { hue: 100, width: 40, colour: 0.1 },
      ),
      tints: tints([0.3, 130, 0.1], [0.7, 95, 0.14]),
    },
  },
  {
    id: 'oil-lamp',
    name: 'Oil lamp',
    kind: 'colour',
    about: 'Amber lights over blue dark',
    recipe: {
      curve: line([0, 0], [0.3, 0.26], [0.75, 0.78], [1, 1]),
      tints: tints([0.18, 258, 0.5], [0.5, 60, 0.1], [0.82, 68, 0.55]),
    },
  },
  {
    id: 'ledger',
    name: 'Ledger',
    kind: 'colour',
    about: 'Faded, matte, paper-like',
    recipe: {
      curve: lines({
        all: [
          [0, 0.12],
          [0.3, 0.34],
          [0.75, 0.76],
          [1, 0.95],
        ],
        blue: [
          [0, 0.03],
          [1, 0.96],
        ],
      }),
      colourfulness: colour(-0.3),
    },
  },
  {
    id: 'hoarfrost',
    name: 'Hoarfrost',
    kind: 'colour',
    about: 'Crisp, pale, cold lights',
    recipe: {
      curve: line([0, 0], [0.3, 0.29], [0.65, 0.71], [1, 1]),
      tints: tints([0.35, 245, 0.12], [0.85, 225, 0.2]),
      colourfulness: colour(-0.15),
    },
  },
  {
    id: 'market-day',
    name: 'Market day',
    kind: 'colour',
    about: 'Lively, clean primaries',
    recipe: {
      curve: line([0, 0], [0.25, 0.22], [0.7, 0.74], [1, 1]),
      primaries: PrimariesSchema.parse({ red: { spread: 0.06 }, blue: { turn: 2, spread: 0.08 } }),
      colourfulness: colour(0.12, 0.35),
    },
  },
  {
    id: 'plain-silver',
    name: 'Plain silver',
    kind: 'monochrome',
    about: 'Straight from the light',
    recipe: { monochrome: grey() },
  },
  {
    id: 'thunder',
    name: 'Thunder',
    kind: 'monochrome',
    about: 'Red glass, dark skies',
    recipe: { monochrome: grey('red', 1.1), curve: line([0, 0], [0.3, 0.26], [0.7, 0.74], [1, 1]) },
  },
  {
    id: 'haze-grey',
    name: 'Lowland haze',
    kind: 'monochrome',
    about: 'Soft, open, far',
    recipe: { monochrome: grey('blue', 0.5), curve: line([0, 0.08], [0.3, 0.38], [0.75, 0.78], [1, 0.98]) },
  },
  {
    id: 'ink',
    name: 'Ink',
    kind: 'monochrome',
    about: 'Hard, few middle tones',
    recipe: {
      monochrome: grey('yellow'),
      curve: line([0.08, 0], [0.3, 0.19], [0.65, 0.76], [0.95, 1]),
    },
  },
  {
    id: 'glass-plate',
    name: 'Glass plate',
    kind: 'monochrome',
    about: 'Blind to red, a brown print',
    recipe: {
      monochrome: grey('blue', 1.2),
      curve: line([0, 0.05], [0.5, 0.52], [1, 0.97]),
      toning: bath('sepia', 0.6),
    },
  },
  {
    id: 'archive',
    name: 'Archive',
    kind: 'monochrome',
    about: 'Selenium, deep blacks',
    recipe: {
      monochrome: grey('orange', 0.7),
      curve: line([0, 0], [0.25, 0.21], [0.7, 0.72], [1, 1]),
      toning: bath('selenium', 0.8),
    },
  },
  {
    id: 'tea',
    name: 'Tea',
    kind: 'monochrome',
    about: 'Warm brown, matte',
    recipe: {
      monochrome: grey('green', 0.5),
      curve: line([0, 0.1], [0.4, 0.42], [1, 0.96]),
      toning: bath('sepia', 0.9),
    },
  },
  {
    id: 'night-blue',
    name: 'Night blue',
    kind: 'monochrome',
    about: 'Iron blue all through',
    recipe: { monochrome: grey(), toning: bath('ironBlue', 0.75) },
  },
]

export const lookById = (id: string): Look | undefined => LOOKS.find((l) => l.id === id)
