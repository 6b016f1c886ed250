import { runTints, tintTable } from '../toneTints'
import { defineStep } from '../step'
import { TintsSchema } from './schema'

/** Oklab chroma and lightness at the ends of the controls. */
const CHROMA = 0.1
const LIGHT = 0.08

/** Colour tints at freely placed tones, blending into each other. */
export const tints = defineStep({
  id: 'tints',
  name: 'Tints',
  says: () => 'tints',
  stage: 'balance',
  schema: TintsSchema,
  neutral: TintsSchema.parse({}),
  essential: false,
  keep: false,
  takes: 'picture',
  inArea: true,
  yields: 'display',
  colours: 'oklab',
  idle: ({ stops }) => stops.every((s) => s.strength === 0 && s.light === 0),
  reach: () => 0,
  prepare: ({ stops }) =>
    tintTable(
      stops.map(({ at, hue, strength, light }) => ({
        at,
        hue,
        chroma: strength * CHROMA,
        light: light * LIGHT,
      })),
    ),
  run: (tile, table) => runTints(tile, table, 1),
})
