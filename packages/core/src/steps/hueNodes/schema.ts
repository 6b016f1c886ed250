import { numberField, shareField, worded } from '../field'
import { z } from 'zod'

/** Largest Oklab chroma that limits tell apart: beyond every colour of a display. */
export const CHROMA_TOP = 0.4

export const HueNodeSchema = z.object({
  /** Oklab hue in degrees. */
  hue: worded(z.number().min(0).max(360), {
    label: 'Hue',
    unit: '°',
    step: 1,
    passes: 'around',
  }),
  /** Degrees to either side where it ends. */
  width: numberField(8, 120, 60, { label: 'Width', unit: '°', step: 1 }),
  /** Degrees that hues there are turned by. */
  shift: numberField(-60, 60, 0, { label: 'Hue shift', unit: '°', step: 1 }),
  /** -1 drains the colour, 1 doubles it. */
  colour: shareField(-1, 1, 0, 'Colourfulness'),
  light: shareField(-1, 1, 0, 'Lightness'),
  /** Oklab chroma and lightness within which it acts. */
  chroma: z
    .tuple([z.number().min(0).max(CHROMA_TOP), z.number().min(0).max(CHROMA_TOP)])
    .default([0, CHROMA_TOP]),
  lightness: z.tuple([z.number().min(0).max(1), z.number().min(0).max(1)]).default([0, 1]),
})
export type HueNode = z.infer<typeof HueNodeSchema>
export const MOST_NODES = 12

const START = [30, 90, 150, 210, 270, 330].map((hue) => HueNodeSchema.parse({ hue }))

export const HueNodesSchema = z.object({
  nodes: worded(z.array(HueNodeSchema).max(MOST_NODES).default(START), {
    label: 'Hue nodes',
    itemsBy: 'hue',
  }),
})
export type HueNodesSettings = z.infer<typeof HueNodesSchema>

/** What is only looked at: everything that this node does not select is shown without colour. It is never stored. */
export interface SelectionShown {
  show?: number
}
