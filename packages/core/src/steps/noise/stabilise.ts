import type { Triple } from '../../math'
import type { CfaPattern } from '../../raw'

/** Variance = a * signal + b of one colour. */
export interface NoiseOf {
  a: number
  b: number
}

/** Least share of a signal that its noise is taken to have: keeps stabilised numbers within 32-bit floats. */
const LEAST = 1e-7

/**
 * Numbers for the kernels `stabilise_cells` and `restore_cells`: for each place of a cell of 2 x 2 the
 * variance-stabilising curve of its colour, then an orthonormal turn of the four values. Its first axis is what a
 * grey has in all four once stabilised, so that the others hold colour alone; noise stays 1 on every axis.
 * @param noise by colour, signal 0..1 before balancing
 * @param balance factor of the channels on reading
 * @param origin place of a cell's first sample on the sensor
 * @returns numbers for the way there and back; what white light is on the first axis
 */
export function stabilising(
  noise: readonly NoiseOf[],
  balance: Triple,
  { colours }: Pick<CfaPattern, 'colours'>,
  origin: readonly [number, number],
): { forward: Float32Array; back: Float32Array; white: number } {
  const at = (i: number) => {
    const x = (origin[0] + (i & 1)) & 1
    const y = (origin[1] + (i >> 1)) & 1
    return colours[y * 2 + x]
  }
  const curves: number[] = []
  const grey: number[] = []
  for (let i = 0; i < 4; i++) {
    const c = at(i)
    const model = noise[Math.min(c, noise.length - 1)]
    const a = Math.max(model.a * balance[c], LEAST)
    const b = Math.max(model.b * balance[c] * balance[c], LEAST * LEAST)
    curves.push(2 / a, a, (3 / 8) * a * a + b, -a / 8 - b / a)
    grey.push(1 / Math.sqrt(a))
  }
  const matrix = turnTo(grey, [0, 1, 2, 3].map(at))
  const back = [0, 1, 2, 3].flatMap((i) => [0, 1, 2, 3].map((p) => matrix[p * 4 + i]))
  const white = [0, 1, 2, 3].reduce((sum, i) => {
    const [scale, a, c] = curves.slice(4 * i)
    return sum + matrix[i] * scale * Math.sqrt(a + c)
  }, 0)
  return {
    forward: Float32Array.from([...curves, ...matrix]),
    back: Float32Array.from([...curves, ...back]),
    white,
  }
}

/** Rows of an orthonormal matrix: along `grey`; red against blue; both against the greens; the greens apart. */
function turnTo(grey: readonly number[], colours: readonly number[]): number[] {
  const red = colours.indexOf(0)
  const blue = colours.indexOf(2)
  const greens = [0, 1, 2, 3].filter((i) => i !== red && i !== blue)
  const unit = (v: number[]) => {
    const length = Math.sqrt(v.reduce((s, x) => s + x * x, 0))
    return v.map((x) => x / length)
  }
  const place = (entries: readonly (readonly [number, number])[]) => {
    const out = [0, 0, 0, 0]
    for (const [i, v] of entries) out[i] = v
    return unit(out)
  }
  const rb = grey[red] * grey[red] + grey[blue] * grey[blue]
  const gg = grey[greens[0]] * grey[greens[0]] + grey[greens[1]] * grey[greens[1]]
  return [
    ...unit([...grey]),
    ...place([
      [red, grey[blue]],
      [blue, -grey[red]],
    ]),
    ...place([
      [red, grey[red] * gg],
      [blue, grey[blue] * gg],
      [greens[0], -grey[greens[0]] * rb],
      [greens[1], -grey[greens[1]] * rb],
    ]),
    ...place([
      [greens[0], grey[greens[1]]],
      [greens[1], -grey[greens[0]]],
    ]),
  ]
}
