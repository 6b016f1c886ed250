import { defineStep } from '../step'
import { runTints, tintTable, type ToneTint } from '../toneTints'
import { ToningSchema, type Toner, type ToningSettings } from './schema'

/** What baths do to silver, in our own numbers: colour by tone at full strength. */
const BATHS: Record<Exclude<Toner, 'none' | 'split'>, readonly ToneTint[]> = {
  // brown through and through, warmest where silver is thin
  sepia: [
    { at: 0.15, hue: 55, chroma: 0.045, light: 0 },
    { at: 0.55, hue: 66, chroma: 0.075, light: 0 },
    { at: 0.9, hue: 82, chroma: 0.05, light: 0 },
  ],
  // dense silver turns first: aubergine shadows a little deeper, clean lights
  selenium: [
    { at: 0.2, hue: 358, chroma: 0.034, light: -0.035 },
    { at: 0.5, hue: 8, chroma: 0.024, light: -0.012 },
    { at: 0.8, hue: 20, chroma: 0.005, light: 0 },
  ],
  // cold blue-black that reaches into the lights
  gold: [
    { at: 0.2, hue: 275, chroma: 0.022, light: -0.01 },
    { at: 0.6, hue: 255, chroma: 0.032, light: 0 },
    { at: 0.9, hue: 240, chroma: 0.02, light: 0 },
  ],
  ironBlue: [
    { at: 0.2, hue: 262, chroma: 0.085, light: 0 },
    { at: 0.6, hue: 250, chroma: 0.085, light: 0 },
    { at: 0.9, hue: 230, chroma: 0.035, light: 0 },
  ],
}

function bath({ toner, strength, darkHue, lightHue, meet }: ToningSettings): ToneTint[] {
  if (toner === 'none') return []
  const tints =
    toner === 'split'
      ? [
          { at: meet * 0.6, hue: darkHue, chroma: 0.06, light: 0 },
          { at: meet, hue: darkHue, chroma: 0, light: 0 },
          { at: meet + 0.001, hue: lightHue, chroma: 0, light: 0 },
          { at: meet + (1 - meet) * 0.6, hue: lightHue, chroma: 0.06, light: 0 },
        ]
      : BATHS[toner]
  return tints.map((t) => ({ ...t, chroma: t.chroma * strength, light: t.light * strength }))
}

/** The colour of a monochrome print, as baths give it. */
export const toning = defineStep({
  id: 'toning',
  name: 'Toning',
  says: () => 'toned',
  stage: 'balance',
  schema: ToningSchema,
  neutral: ToningSchema.parse({}),
  essential: false,
  keep: false,
  takes: 'picture',
  yields: 'display',
  colours: 'oklab',
  idle: ({ toner, strength }) => toner === 'none' || strength === 0,
  reach: () => 0,
  prepare: (settings) => tintTable(bath(settings)),
  run: (tile, table) => runTints(tile, table, 1),
})
