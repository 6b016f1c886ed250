import { zlibSync } from 'fflate'
import { encodeLosslessJpeg, type LosslessLayout } from '@dunkelkammer/core'

/** How samples are to be stored. */
export interface SampleStorage {
  compression: 'none' | 'lossless-jpeg' | 'deflate'
  bits: number
  /** 1 a pixel of a mosaic, 3 of a linear picture. */
  samples: 1 | 3
  float: boolean
  littleEndian: boolean
  /** TIFF predictor of deflated data: 1 none, 2 horizontal, 3 float, and the wider ones of DNG. */
  predictor: number
  lossless?: LosslessLayout
}

/** A number as a float of 5 and 10, or of 7 and 16, bits of exponent and mantissa. */
function packFloat(v: number, exponent: number, mantissa: number): number {
  const bias = 2 ** (exponent - 1) - 1
  const sign = v < 0 ? 1 : 0
  const a = Math.abs(v)
  let code = 0
  if (a > 0) {
    const e = Math.max(Math.floor(Math.log2(a)) + bias, 0)
    const m = e === 0 ? a / 2 ** (1 - bias) : a / 2 ** (e - bias) - 1
    // rounding up may carry into the exponent, which is as it should be
    code = e * 2 ** mantissa + Math.round(m * 2 ** mantissa)
  }
  return sign * 2 ** (exponent + mantissa) + code
}

/** One line of samples as bytes in file order, packed without gaps where bits are not whole bytes. */
function lineBytes(line: ArrayLike<number>, s: SampleStorage, littleEndian: boolean): Uint8Array {
  const out = new Uint8Array(Math.ceil((line.length * s.bits) / 8))
  const put = (at: number, value: number, bytes: number) => {
    for (let k = 0; k < bytes; k++)
      out[at + k] = Math.floor(value / 256 ** (littleEndian ? k : bytes - 1 - k)) % 256
  }
  const whole = s.bits / 8
  if (s.float)
    for (let i = 0; i < line.length; i++) {
      if (s.bits === 32) new DataView(out.buffer).setFloat32(i * 4, line[i], littleEndian)
      else put(i * whole, s.bits === 16 ? packFloat(line[i], 5, 10) : packFloat(line[i], 7, 16), whole)
    }
  else if (Number.isInteger(whole)) for (let i = 0; i < line.length; i++) put(i * whole, line[i], whole)
  else {
    let bit = 0
    for (let i = 0; i < line.length; i++)
      for (let k = s.bits - 1; k >= 0; k--, bit++) out[bit >> 3] |= ((line[i] >> k) & 1) << (7 - (bit & 7))
  }
  return out
}

/** Takes differences of a line, as `undo...` of the reader adds up. */
function predict(bytes: Uint8Array, s: SampleStorage): Uint8Array {
  const by = s.samples * ({ 34892: 2, 34894: 2, 34893: 4, 34895: 4 }[s.predictor] ?? 1)
  const size = s.bits / 8
  if ([3, 34894, 34895].includes(s.predictor)) {
    const n = bytes.length / size
    const planes = new Uint8Array(bytes.length)
    for (let i = 0; i < n; i++) for (let b = 0; b < size; b++) planes[b * n + i] = bytes[i * size + b]
    for (let i = planes.length - 1; i >= by; i--) planes[i] = (planes[i] - planes[i - by]) & 255
    return planes
  }
  if (s.predictor === 1) return bytes
  const value = (i: number) =>
    size === 1
      ? bytes[i]
      : s.littleEndian
        ? bytes[i * 2] | (bytes[i * 2 + 1] << 8)
        : (bytes[i * 2] << 8) | bytes[i * 2 + 1]
  const values = Array.from({ length: bytes.length / size }, (_, i) => value(i))
  const differences = values.map((v, i) => (i < by ? v : v - values[i - by]) & (2 ** s.bits - 1))
  return lineBytes(differences, s, s.littleEndian)
}

/**
 * The bytes of one strip or tile.
 * @param samples interleaved, `width` pixels a line
 */
export function storeSegment(
  samples: ArrayLike<number>,
  width: number,
  height: number,
  s: SampleStorage,
): Uint8Array {
  const count = width * s.samples
  if (s.compression === 'lossless-jpeg')
    return encodeLosslessJpeg(Uint16Array.from(samples), count, height, s.bits, s.lossless)
  const lines: Uint8Array[] = []
  const floating = [3, 34894, 34895].includes(s.predictor)
  for (let y = 0; y < height; y++) {
    const line = Array.prototype.slice.call(samples, y * count, (y + 1) * count) as number[]
    const bytes = lineBytes(line, s, floating ? false : s.littleEndian)
    lines.push(s.compression === 'deflate' ? predict(bytes, s) : bytes)
  }
  const all = new Uint8Array(lines.reduce((n, l) => n + l.length, 0))
  let at = 0
  for (const l of lines) {
    all.set(l, at)
    at += l.length
  }
  return s.compression === 'deflate' ? zlibSync(all) : all
}
