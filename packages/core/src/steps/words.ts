/** A number with its sign and no more digits than needed, as the narrow stage line wants it. */
export const signed = (v: number, digits: number): string =>
  `${v > 0 ? '+' : v < 0 ? '\u2212' : ''}${Number(Math.abs(v).toFixed(digits))}`

export const percent = (v: number): string => `${Math.round(v * 100)} %`
