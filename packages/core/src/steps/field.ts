import { z } from 'zod'

/** What is said of a field beside what its schema allows. */
export interface FieldWords {
  /** What controls and the history call it. */
  label: string
  /** Whether the label says enough where the step is not named. */
  alone?: boolean
  unit?: string
  /** Number as shown over number as stored; 100 for shares shown in per cent. */
  scale?: number
  /** One step of a control, as shown. */
  step?: number
  /** Least and largest that a control offers, as shown, where the schema allows more. */
  offers?: readonly [number, number]
  /**
   * How a strength of 0 to 1.5 lets a number in, from what it is without the step: "held" to the ends of its schema, or
   * "free" to go beyond. One without is not let in by strength.
   */
  strength?: 'held' | 'free'
  /** What a number is without the step, where that is not its start. */
  without?: number
  /** Made for one frame, and not taken along to another; where not said, as its step. */
  belongs?: 'frame'
  /** How a number passes from one value to another in time: by the shorter way around, or evenly in its reciprocal. */
  passes?: 'around' | 'reciprocally'
  /** What the items of a list are told apart by, where they have no ids. */
  itemsBy?: string
  /** Words for the values of a choice or a switch. */
  words?: Readonly<Record<string, string>>
}

/** Everything that is said of fields. A step says it once, where its schema stands; all else is derived. */
export const FIELD_WORDS = z.registry<FieldWords>()

/** A number between two ends, as stored. */
export const numberField = (min: number, max: number, start: number, words: FieldWords) =>
  z.number().min(min).max(max).default(start).register(FIELD_WORDS, words)

/** A hue, degrees of Oklab. */
export const hueField = (start: number, label: string, more: Partial<FieldWords> = {}) =>
  numberField(0, 360, start, { label, unit: '°', step: 1, passes: 'around', ...more })

/** A share, stored as a number around 1 and shown in per cent. */
export const shareField = (
  min: number,
  max: number,
  start: number,
  label: string,
  step = 5,
  more: Partial<FieldWords> = {},
) => numberField(min, max, start, { label, unit: '%', scale: 100, step, ...more })

/** One of several values, each with its word. */
export const choiceField = <const V extends readonly [string, ...string[]]>(
  values: V,
  start: V[number],
  label: string,
  words: Readonly<Record<V[number], string>>,
) => z.enum(values).default(start).register(FIELD_WORDS, { label, words })

/** Yes or no. */
export const switchField = (start: boolean, label: string, on = 'on', off = 'off') =>
  z
    .boolean()
    .default(start)
    .register(FIELD_WORDS, { label, words: { true: on, false: off } })

/** What is said of a schema that was not made here. */
export const worded = <T extends z.ZodType>(schema: T, words: FieldWords): T => {
  FIELD_WORDS.add(schema, words)
  return schema
}
