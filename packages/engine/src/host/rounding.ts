/** A value within a range. */
export const hold = (v: number, { min, max }: { min: number; max: number }): number =>
  Math.min(Math.max(v, min), max)

/** A value in whole steps, never -0. */
export const round = (v: number, step: number): number => Math.round(v / step) * step + 0
