import { beforeAll, describe, expect, it } from 'vitest'
import { floatsAt, testBench } from '../../test/bench'
import { between, ciede2000, oklabBlock, spaces, toLab, working, type SpaceId } from '../colour'
import { apply, type Triple } from '../math'
import type { Scratch } from '../memory'
import type { Kernels } from './kernels'

let kernels: Kernels
let scratch: Scratch
beforeAll(async () => ({ kernels, scratch } = await testBench()))

/** Linear colours of the working space, held to a display's gamut by the kernel for RGB or the one for Oklab. */
function held(colours: readonly Triple[], to: SpaceId, oklab: boolean): Triple[] {
  const mark = scratch.mark()
  const n = (colours.length + 3) & ~3
  const planes = [0, 1, 2].map((c) =>
    scratch.floats(Array.from({ length: n }, (_, i) => colours[Math.min(i, colours.length - 1)][c])),
  ) as [number, number, number]
  const matrix = between(working, spaces[to])
  const lab = scratch.floats(oklabBlock(working, spaces[to], matrix))
  if (oklab) {
    kernels.to_oklab(...planes, n, lab)
    kernels.oklab_to_gamut(...planes, n, lab)
  } else kernels.to_gamut(...planes, n, scratch.floats(matrix), lab)
  const [r, g, b] = planes.map((at) => [...floatsAt(scratch, at, n)])
  scratch.release(mark)
  return colours.map((_, i) => [r[i], g[i], b[i]])
}

const TARGETS = ['srgb', 'display-p3', 'rec2020'] as const
const CORNERS = Array.from({ length: 8 }, (_, i): Triple => [i & 1, (i >> 1) & 1, i >> 2])

describe.each([false, true])('colours held to a gamut (as Oklab: %s)', (oklab) => {
  it.each(TARGETS)('leave every corner of %s where it is', (id) => {
    const home = between(spaces[id], working)
    held(
      CORNERS.map((c) => apply(home, c)),
      id,
      oklab,
    ).forEach((rgb, i) => rgb.forEach((v, c) => expect(Math.abs(v - CORNERS[i][c])).toBeLessThan(2e-3)))
  })

  it.each(TARGETS)('leave what lies inside of %s alone', (id) => {
    const home = between(spaces[id], working)
    const inside: Triple[] = []
    const steps = [0, 0.001, 0.03, 0.2, 0.6, 0.97, 1]
    for (const r of steps) for (const g of steps) for (const b of steps) inside.push([r, g, b])
    held(
      inside.map((c) => apply(home, c)),
      id,
      oklab,
    ).forEach((rgb, i) => rgb.forEach((v, c) => expect(Math.abs(v - inside[i][c])).toBeLessThan(2e-3)))
  })

  // between corners of the widest space, through its greys, its faces and its edges
  const ramps = CORNERS.flatMap((from, i) =>
    CORNERS.slice(i + 1).flatMap((to) => [1, 0.18].map((light) => [from, to, light] as const)),
  )
  it.each(['srgb', 'display-p3'] as const)('go on smoothly where a ramp leaves %s', (id) => {
    let worst = 0
    for (const [from, to, light] of ramps) {
      // a neighbour of each, so that ramps do not keep to the faces
      for (const aside of [0, 0.02, 0.1]) {
        const at = (t: number) =>
          from.map(
            (v, c) => light * Math.max(v + t * (to[c] - v), aside * (c === 1 ? 1 : 0.5)),
          ) as unknown as Triple
        const points: Triple[] = [at(0)]
        let t = 0
        // neighbours a fifth of a visible difference apart
        while (t < 1) {
          let step = Math.min(1 - t, 0.02)
          const here = toLab(working, at(t))
          while (step > 1e-6 && ciede2000(here, toLab(working, at(t + step))) > 0.2) step /= 2
          points.push(at((t += step)))
        }
        const out = held(points, id, oklab).map((c) => toLab(spaces[id], c))
        for (let i = 1; i < out.length; i++) worst = Math.max(worst, ciede2000(out[i - 1], out[i]))
      }
    }
    expect(worst).toBeLessThan(1)
  })
})
