/** A focal length, without needless places. */
export const focalWord = (mm: number): string => `${Number(mm.toFixed(1))} mm`

/** A lens's focal lengths. */
export const focalsWord = (from: number, to: number): string =>
  from === to ? focalWord(from) : `${Number(from.toFixed(1))} to ${focalWord(to)}`
