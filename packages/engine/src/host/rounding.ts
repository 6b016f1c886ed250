/** A value within a range. */
export const hold = (v: number, { min, max }: { min: number; max: number }): number =>
  Math.min(Math.max(v, min), max)

/** A value in whole steps, without what a multiplication leaves behind the last digit; never -0. */
export const round = (v: number, step: number): number => Number((Math.round(v / step) * step).toFixed(6)) + 0
