/** A table of colours over encoded sRGB: size^3 entries of three numbers, red running fastest. */
export interface ColourTable {
  title: string
  size: number
  colours: Float32Array
}

export const CUBE_MOST = 65
/** Places at which a one-dimensional table is taken over into a colour table. */
const FROM_1D = 65
const MOST_1D = 65536
/** Bytes of the longest file that is read: 65^3 lines of three long numbers, and some words. */
export const MAX_CUBE = 24e6

/** A .cube file that cannot be used, with a sentence for the user. */
export class CubeError extends Error {
  constructor(message: string) {
    super(message)
    this.name = 'CubeError'
  }
}

const numbers = (words: readonly string[], line: number): number[] =>
  words.map((w) => {
    const v = Number(w)
    if (w === '' || !isFinite(v))
      throw new CubeError(`This table of colours is damaged: line ${line} has no numbers.`)
    return v
  })

/**
 * Reads a .cube file of either kind (plain text: TITLE, LUT_1D_SIZE or LUT_3D_SIZE, DOMAIN_MIN,
 * DOMAIN_MAX, lines of three numbers).
 * @throws CubeError
 */
export function readCube(text: string): ColourTable {
  if (text.length > MAX_CUBE) throw new CubeError('This file is too large for a table of colours.')
  let title = ''
  let size = 0
  let kind: '1' | '3' | undefined
  let low = [0, 0, 0]
  let high = [1, 1, 1]
  const values: number[] = []
  let n = 0
  for (const raw of text.split(/\r\n|\r|\n/)) {
    n++
    const line = raw.trim()
    if (line === '' || line.startsWith('#')) continue
    const [word, ...rest] = line.split(/\s+/)
    if (word === 'TITLE') title = line.slice(5).trim().replace(/^"|"$/g, '').slice(0, 120)
    else if (word === 'LUT_1D_SIZE' || word === 'LUT_3D_SIZE') {
      if (kind) throw new CubeError('This file holds more than one table; only one can be used.')
      kind = word === 'LUT_1D_SIZE' ? '1' : '3'
      size = numbers(rest, n)[0]
      const most = kind === '1' ? MOST_1D : CUBE_MOST
      if (!Number.isInteger(size) || size < 2 || size > most)
        throw new CubeError(`A table of size ${rest[0]} cannot be used: 2 to ${most} are possible.`)
    } else if (word === 'DOMAIN_MIN') low = numbers(rest.slice(0, 3), n)
    else if (word === 'DOMAIN_MAX') high = numbers(rest.slice(0, 3), n)
    else if (/^[-+.\d]/.test(word)) {
      const three = numbers([word, ...rest].slice(0, 3), n)
      if (three.length < 3) throw new CubeError(`This table of colours is damaged: line ${n} is too short.`)
      values.push(...three)
      if (values.length > 3 * CUBE_MOST ** 3)
        throw new CubeError('This table has more lines than its size says.')
    }
    // other words are notes of other programs
  }
  if (!kind) throw new CubeError('This is no table of colours: it does not say its size.')
  if (low.length < 3 || high.length < 3 || low.some((v, i) => !(high[i] > v)))
    throw new CubeError('This table of colours is damaged: the ends of its range make no sense.')
  const count = kind === '1' ? size : size ** 3
  if (values.length !== 3 * count)
    throw new CubeError(`This table has ${values.length / 3} lines where its size asks for ${count}.`)
  const plain = low.every((v) => v === 0) && high.every((v) => v === 1)
  if (kind === '3' && plain) return { title, size, colours: Float32Array.from(values) }
  const at = kind === '1' ? curveAt(values, size) : cellAt(values, size)
  const out = kind === '1' ? FROM_1D : size
  const colours = new Float32Array(3 * out ** 3)
  let k = 0
  for (let b = 0; b < out; b++)
    for (let g = 0; g < out; g++)
      for (let r = 0; r < out; r++) {
        const place = [r, g, b].map((v, c) => {
          const t = (v / (out - 1) - low[c]) / (high[c] - low[c])
          return Math.min(Math.max(t, 0), 1) * (size - 1)
        })
        colours.set(at(place), k)
        k += 3
      }
  return { title, size: out, colours }
}

/** One-dimensional: each channel by its own column. */
const curveAt = (values: readonly number[], size: number) => (place: readonly number[]) =>
  place.map((t, c) => {
    const i = Math.min(Math.floor(t), size - 2)
    const f = t - i
    return values[3 * i + c] * (1 - f) + values[3 * (i + 1) + c] * f
  })

/** Three-dimensional: the eight corners around a place. */
const cellAt = (values: readonly number[], size: number) => (place: readonly number[]) => {
  const low = place.map((t) => Math.min(Math.floor(t), size - 2))
  const out = [0, 0, 0]
  for (let corner = 0; corner < 8; corner++) {
    let weight = 1
    let index = 0
    for (const c of [2, 1, 0]) {
      const up = (corner >> c) & 1
      const f = place[c] - low[c]
      weight *= up ? f : 1 - f
      index = index * size + low[c] + up
    }
    for (let c = 0; c < 3; c++) out[c] += weight * values[3 * index + c]
  }
  return out
}

/** Writes a three-dimensional .cube file. */
export function writeCube({ title, size, colours }: ColourTable): string {
  const lines = [`TITLE "${title.replace(/["\r\n]/g, ' ')}"`, `LUT_3D_SIZE ${size}`]
  for (let i = 0; i < colours.length; i += 3)
    lines.push([colours[i], colours[i + 1], colours[i + 2]].map((v) => v.toFixed(6)).join(' '))
  return lines.join('\n') + '\n'
}
