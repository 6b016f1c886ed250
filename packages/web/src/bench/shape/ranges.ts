import { MOST_COLOUR_SAMPLES, TONE_RANGE, type ColourRange, type ToneRange } from '@dunkelkammer/core'

/** EV to either side that a sample takes. */
const AROUND = 0.5

const hold = (ev: number) => Math.min(Math.max(Math.round(ev * 20) / 20, TONE_RANGE.least), TONE_RANGE.most)

/** A range of tones with one more: the first makes it narrow, others make it wider. */
export function withTone(range: ToneRange, ev: number): ToneRange {
  const whole = range.from <= TONE_RANGE.least && range.to >= TONE_RANGE.most
  const [low, high] = [hold(ev - AROUND), hold(ev + AROUND)]
  return {
    ...range,
    from: whole ? low : Math.min(range.from, low),
    to: whole ? high : Math.max(range.to, high),
  }
}

/** A range of colours with one more; the oldest goes where there are too many. */
export const withColour = (range: ColourRange, colour: [number, number]): ColourRange => ({
  ...range,
  samples: [...range.samples, colour].slice(-MOST_COLOUR_SAMPLES),
})

/** Ranges of the scene's lightness that are ready to take, EV from middle grey: the run-out meets the neighbour's. */
export const LIGHTNESS = [
  { name: 'Lights', widths: [2.5, 1.5, 0.5], at: (edge: number) => ({ from: edge, below: 1 }) },
  {
    name: 'Middle tones',
    widths: [0.5, 1, 2],
    at: (half: number) => ({ from: -half - 0.5, to: half - 0.5, below: 1, above: 1 }),
  },
  { name: 'Darks', widths: [-4, -3, -2], at: (edge: number) => ({ to: edge, above: 1 }) },
] as const
export const WIDTHS = ['narrow', 'medium', 'wide'] as const
