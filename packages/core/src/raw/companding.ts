/** Bits of a sample of a linear DNG as it is stored. */
export const CODE_BITS = 12
const MOST_CODES = 1 << CODE_BITS
const FULL = 65535

/** How light is stored in codes: by its noise, variance = a * light + b, light 0 to 1. */
export interface Companding {
  a: number
  b: number
  /** Codes to a standard deviation of the noise, and how many there are at least. */
  steps: number
  least: number
}

/** Standard deviations of noise that lie between black and a light. */
const deviations = ({ a, b }: Companding, light: number) =>
  (2 / a) * (Math.sqrt(a * light + b) - Math.sqrt(b))

/**
 * 16-bit linear light of each code, a LinearizationTable of DNG 1.7. Steps grow with the noise of light, so that
 * what is stored is what was seen and not how finely it was counted.
 */
export function linearOf(companding: Companding): Uint16Array {
  const safe = { ...companding, a: Math.max(companding.a, 1e-7), b: Math.max(companding.b, 0) }
  const { a, b } = safe
  const whole = deviations(safe, 1)
  const count = Math.round(Math.min(Math.max(whole * safe.steps, safe.least), MOST_CODES))
  return Uint16Array.from({ length: count }, (_, code) => {
    const root = Math.sqrt(b) + (a / 2) * whole * (code / (count - 1))
    return Math.round((FULL * (root * root - b)) / a)
  })
}

/** Code that is nearest to each 16-bit value of linear light. */
export function codesOf(linear: Uint16Array): Uint16Array {
  const codes = new Uint16Array(FULL + 1)
  for (let v = 0, code = 0; v <= FULL; v++) {
    while (code + 1 < linear.length && Math.abs(linear[code + 1] - v) <= Math.abs(linear[code] - v)) code++
    codes[v] = code
  }
  return codes
}
