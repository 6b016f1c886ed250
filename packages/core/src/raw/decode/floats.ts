/** Light beyond any sensor: what is larger, or no number, is damage. */
const MOST = 65504

const sane = (v: number) => (v > -MOST && v < MOST ? v : v >= MOST ? MOST : 0)

/** A number of a sign, `exponent` and `mantissa` bits, its exponent biased as in IEEE 754. */
function unpackFloat(code: number, exponent: number, mantissa: number): number {
  const bias = 2 ** (exponent - 1) - 1
  const top = 2 ** exponent - 1
  const sign = code >>> (exponent + mantissa) ? -1 : 1
  const e = (code >>> mantissa) & top
  const m = (code & (2 ** mantissa - 1)) / 2 ** mantissa
  if (e === top) return m ? 0 : sign * MOST
  return sign * (e ? (1 + m) * 2 ** (e - bias) : m * 2 ** (1 - bias))
}

/**
 * Floats of 16, 24 or 32 bits to 32 (DNG 1.7, chapter 4: 24 bits are a sign, 7 bits of exponent, 16 of mantissa).
 * What is no number becomes 0.
 */
export function toFloats(line: Uint8Array, bits: number, littleEndian: boolean, out: Float32Array): void {
  const view = new DataView(line.buffer, line.byteOffset, line.byteLength)
  for (let i = 0; i < out.length; i++) {
    if (bits === 32) out[i] = sane(view.getFloat32(i * 4, littleEndian))
    else if (bits === 16) out[i] = unpackFloat(view.getUint16(i * 2, littleEndian), 5, 10)
    else {
      const [a, b, c] = [line[i * 3], line[i * 3 + 1], line[i * 3 + 2]]
      out[i] = sane(unpackFloat(littleEndian ? (c << 16) | (b << 8) | a : (a << 16) | (b << 8) | c, 7, 16))
    }
  }
}
