import { beforeAll, describe, expect, it } from 'vitest'
import { floatsAt, random, testBench } from '../../test/bench'
import { deviates } from '../../test/collage'
import { stabilising } from '../steps/noise/stabilise'
import type { Scratch } from '../memory'
import type { Kernels } from './kernels'

let bench: { kernels: Kernels; scratch: Scratch }
beforeAll(async () => (bench = await testBench()))

const put = (values: ArrayLike<number>) => bench.scratch.floats(values)
const get = (at: number, n: number) => floatsAt(bench.scratch, at, n)

/** Orthonormal cosine transform of a block, as its definition says. */
function transform(block: ArrayLike<number>): number[] {
  const c = (k: number) => (k === 0 ? Math.sqrt(1 / 8) : 0.5)
  return Array.from({ length: 64 }, (_, i) => {
    // frequencies across run down the kernel's result
    const [fx, fy] = [Math.floor(i / 8), i % 8]
    let sum = 0
    for (let y = 0; y < 8; y++)
      for (let x = 0; x < 8; x++)
        sum +=
          block[y * 8 + x] *
          Math.cos(((2 * x + 1) * fx * Math.PI) / 16) *
          Math.cos(((2 * y + 1) * fy * Math.PI) / 16)
    return c(fx) * c(fy) * sum
  })
}

describe('blocks of the cosine transform', () => {
  it('are what the definition says, and come back', () => {
    const { kernels, scratch } = bench
    scratch.release()
    const next = random(3)
    const block = Float32Array.from({ length: 64 }, () => next() * 10 - 5)
    const [src, dst] = [put(block), put(new Float32Array(64))]
    kernels.block_forward(src, 32, dst)
    transform(block).forEach((v, i) => expect(get(dst, 64)[i]).toBeCloseTo(v, 4))
    kernels.block_inverse(dst)
    block.forEach((v, i) => expect(get(dst, 64)[i]).toBeCloseTo(v, 4))
  })
})

/** Planes of noise of variance 1 over something, `width` squared. */
const plane = (n: number, seed: number, over: (x: number, y: number) => number) => {
  const gauss = deviates(seed)
  return Float32Array.from({ length: n * n }, (_, i) => over(i % n, Math.floor(i / n)) + gauss())
}
const variance = (values: ArrayLike<number>, of: (i: number) => number, inner: (i: number) => boolean) => {
  let [sum, n] = [0, 0]
  for (let i = 0; i < values.length; i++)
    if (inner(i)) {
      sum += (values[i] - of(i)) ** 2
      n++
    }
  return sum / n
}

describe('shrunk blocks and groups of them', () => {
  const N = 64
  const edge = (x: number, y: number) => (x + y / 3 > 40 ? 60 : 30)
  const inner = (i: number) => i % N > 12 && i % N < N - 12 && i > 12 * N && i < (N - 12) * N
  const window = new Float32Array(64).fill(1)

  function both(noisy: Float32Array, x0 = 0, y0 = 0, n = N, means = 1) {
    const { kernels, scratch } = bench
    scratch.release()
    const bytes = n * n * 4
    const src = put(noisy)
    const [num, den, sum, weights] = [0, 0, 0, 0].map(() => put(new Float32Array(n * n)))
    const [win, one, work] = [put(window), put([1]), scratch.take(40000)]
    const thresholds = put([2.7])
    kernels.shrink_blocks(src, num, den, 1, bytes, n, n, n, x0, y0, means, 2, thresholds, win, work)
    kernels.settle(num, den, src, n * n)
    const pilot = get(num, n * n).slice()
    const rest = [means, 4, 9, 8, 2.5, one, win, work] as const
    kernels.filter_groups(src, num, sum, weights, 1, bytes, n, n, n, x0, y0, ...rest)
    kernels.settle(sum, weights, src, n * n)
    return { pilot, fine: get(sum, n * n).slice() }
  }

  it('take away most of the noise of an even plane, groups more than blocks', () => {
    const { pilot, fine } = both(plane(N, 5, () => 40))
    expect(variance(pilot, () => 40, inner)).toBeLessThan(0.08)
    expect(variance(fine, () => 40, inner)).toBeLessThan(variance(pilot, () => 40, inner) * 1.05)
  })

  it('leave nothing of a plane that holds none, and a drawing in it', () => {
    const { pilot, fine } = both(
      plane(N, 9, () => 0),
      0,
      0,
      N,
      0,
    )
    const left = (v: Float32Array) => variance(v, () => 0, inner)
    expect(left(fine)).toBeLessThan(left(both(plane(N, 9, () => 0)).fine) / 2)
    expect(left(pilot)).toBeLessThan(left(both(plane(N, 9, () => 0)).pilot) / 2)
    const stripes = (x: number, y: number) => ((x + y) & 4 ? 12 : -12)
    const drawn = both(plane(N, 9, stripes), 0, 0, N, 0).fine
    expect(variance(drawn, (i) => stripes(i % N, Math.floor(i / N)), inner)).toBeLessThan(0.6)
  })

  it('keep an edge far above the noise', () => {
    const { pilot, fine } = both(plane(N, 6, edge))
    const truth = (i: number) => edge(i % N, Math.floor(i / N))
    expect(variance(pilot, truth, inner)).toBeLessThan(0.45)
    expect(variance(fine, truth, inner)).toBeLessThan(0.3)
  })

  it('give the same bits however the picture is cut', () => {
    const big = plane(96, 7, edge)
    const [x0, y0] = [12, 20]
    const part = Float32Array.from(
      { length: N * N },
      (_, i) => big[(Math.floor(i / N) + y0) * 96 + (i % N) + x0],
    )
    const whole = both(big, 0, 0, 96)
    const cut = both(part, x0, y0)
    // what lies farther from the cut than blocks reach
    for (let y = 34; y < N - 34 + 4; y++)
      for (let x = 34; x < N - 34 + 4; x++) {
        expect(cut.fine[y * N + x]).toBe(whole.fine[(y + y0) * 96 + x + x0])
        expect(cut.pilot[y * N + x]).toBe(whole.pilot[(y + y0) * 96 + x + x0])
      }
  })
})

describe('a coarse correction', () => {
  it('adds straight lines between the middles of cells', () => {
    const { kernels, scratch } = bench
    scratch.release()
    const [w, h, sw, sh] = [40, 24, 10, 6]
    const next = random(8)
    const a = Float32Array.from({ length: sw * sh }, () => next())
    const b = Float32Array.from({ length: sw * sh }, () => next())
    for (const [ox, oy] of [
      [0, 0],
      [3, 1],
      [2, 2],
    ]) {
      const dst = put(new Float32Array(w * h))
      kernels.add_coarse(dst, w, h, w, ox, oy, put(a), put(b), sw, sw - 1, sh - 1, 0.5, scratch.take(200))
      const at = (i: number, j: number) => a[j * sw + i] - b[j * sw + i]
      const hold = (v: number, top: number) => Math.min(Math.max(v, 0), top)
      for (let y = 0; y < h; y++)
        for (let x = 0; x < w; x++) {
          const u = hold((x - ox + 0.5) / 4 - 0.5, sw - 2)
          const v = hold((y - oy + 0.5) / 4 - 0.5, sh - 2)
          const [i, j] = [Math.floor(u), Math.floor(v)]
          const [k, l] = [Math.min(i + 1, sw - 2), Math.min(j + 1, sh - 2)]
          const [f, g] = [u - i, v - j]
          const expected =
            0.5 * ((1 - g) * ((1 - f) * at(i, j) + f * at(k, j)) + g * ((1 - f) * at(i, l) + f * at(k, l)))
          // past the last middle the kernel may leave the rim as it is
          if (x >= ox - 2 && x < ox + 4 * (sw - 1) - 2 && y < oy + 4 * (sh - 1) - 2)
            expect(get(dst, w * h)[y * w + x]).toBeCloseTo(expected, 5)
        }
    }
  })
})

describe('stabilising', () => {
  const PATTERN = { colours: [0, 1, 1, 2] as const }
  const noise = [{ a: 2e-3, b: 4e-6 }]
  const balance = [2, 1, 1.5] as const

  it('is undone: what goes in comes out', () => {
    const { kernels, scratch } = bench
    scratch.release()
    const { forward, back } = stabilising(noise, balance, PATTERN, [0, 0])
    const next = random(4)
    const lines = [0, 1].map(() => put(Float32Array.from({ length: 64 }, () => 0.02 + next())))
    const before = lines.map((l) => get(l, 64).slice())
    const cells = scratch.take(4 * 128)
    kernels.stabilise_cells(lines[0], lines[1], cells, 128, 32, put(forward))
    kernels.restore_cells(cells, 128, lines[0], lines[1], 32, put(back))
    // the unbiased inverse adds back the quarter of a variance that the root takes from a mean
    before.forEach((line, i) =>
      line.forEach((v, x) => expect(Math.abs(get(lines[i], 64)[x] - v)).toBeLessThan(0.3 * 2e-3 * 2)),
    )
  })

  it.each([0.01, 0.1, 0.6])(
    'leaves noise of variance 1 on all axes, and its mean unbiased: light %s',
    (light) => {
      const { kernels, scratch } = bench
      scratch.release()
      const n = 4096
      const { forward, back } = stabilising(noise, balance, PATTERN, [0, 0])
      const gauss = deviates(9)
      const colour = (x: number, y: number) => (y === 0 ? (x % 2 === 0 ? 0 : 1) : x % 2 === 0 ? 1 : 2)
      const lines = [0, 1].map((y) =>
        put(
          Float32Array.from({ length: 2 * n }, (_, x) => {
            const g = balance[colour(x, y)]
            const signal = light / g
            return (signal + Math.sqrt(2e-3 * signal + 4e-6) * gauss()) * g
          }),
        ),
      )
      const cells = scratch.take(16 * n)
      kernels.stabilise_cells(lines[0], lines[1], cells, 4 * n, n, put(forward))
      const means: number[] = []
      for (let p = 0; p < 4; p++) {
        const values = get(cells + p * 4 * n, n)
        const mean = values.reduce((s, v) => s + v, 0) / n
        means.push(mean)
        const own = values.reduce((s, v) => s + (v - mean) ** 2, 0) / n
        expect(own).toBeGreaterThan(0.85)
        expect(own).toBeLessThan(1.2)
      }
      // a grey has nothing on the axes of colour, where the noise is that of light
      if (light > 0.05)
        for (const p of [1, 2, 3]) expect(Math.abs(means[p])).toBeLessThan(0.02 * means[0] + 0.15)
      means.forEach((m, p) => get(cells + p * 4 * n, n).fill(m))
      kernels.restore_cells(cells, 4 * n, lines[0], lines[1], n, put(back))
      for (const line of lines) expect(Math.abs(get(line, 2 * n)[10] / light - 1)).toBeLessThan(0.04)
    },
  )
})

describe('sums and filters over windows', () => {
  const [W, H, R] = [37, 22, 3]
  const next = random(12)
  const stride = 40
  const values = Float32Array.from({ length: stride * H }, () => next())
  const at = (x: number, y: number) =>
    values[Math.min(Math.max(y, 0), H - 1) * stride + Math.min(Math.max(x, 0), W - 1)]
  const around = (x: number, y: number) =>
    Array.from({ length: (2 * R + 1) ** 2 }, (_, i) => at(x + (i % 7) - R, y + Math.floor(i / 7) - R))
  const every = (check: (x: number, y: number) => void) => {
    for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) check(x, y)
  }
  const result = () => put(new Float32Array(stride * H))

  it('sum up what lies in them', () => {
    bench.scratch.release()
    const dst = result()
    bench.kernels.box_sum(put(values), dst, W, H, stride, R, result())
    every((x, y) =>
      expect(get(dst, stride * H)[y * stride + x]).toBeCloseTo(
        around(x, y).reduce((a, b) => a + b),
        3,
      ),
    )
  })

  it('find their extremes', () => {
    bench.scratch.release()
    const [lo, hi] = [result(), result()]
    bench.kernels.extremes(put(values), lo, hi, W, H, stride, R, bench.scratch.take(stride * H * 8))
    every((x, y) => {
      expect(get(lo, stride * H)[y * stride + x]).toBe(Math.min(...around(x, y)))
      expect(get(hi, stride * H)[y * stride + x]).toBe(Math.max(...around(x, y)))
    })
  })

  it('weigh them by taps, and by symmetric taps across and down', () => {
    bench.scratch.release()
    const taps = Array.from({ length: 49 }, () => next() - 0.3)
    const dst = result()
    bench.kernels.convolve(put(values), dst, W, H, stride, put(taps), R)
    every((x, y) =>
      expect(get(dst, stride * H)[y * stride + x]).toBeCloseTo(
        around(x, y).reduce((s, v, i) => s + v * taps[i], 0),
        4,
      ),
    )
    const half = [0.4, 0.2, 0.07, 0.03]
    bench.kernels.blur(put(values), dst, W, H, stride, put(half), R, result())
    every((x, y) =>
      expect(get(dst, stride * H)[y * stride + x]).toBeCloseTo(
        around(x, y).reduce(
          (s, v, i) => s + v * half[Math.abs((i % 7) - R)] * half[Math.abs(Math.floor(i / 7) - R)],
          0,
        ),
        4,
      ),
    )
  })
})

describe('lone specks', () => {
  it('go, while an edge and a point that the lens has spread stay', () => {
    const { kernels, scratch } = bench
    scratch.release()
    const n = 40
    const light = new Float32Array(n * n).fill(0.1)
    for (let i = 0; i < n * n; i++) if (i % n > 28) light[i] = 0.8
    light[12 * n + 12] = 0.9
    // a point of light on the other side covers several photosites of each colour
    for (let y = 24; y < 30; y++) for (let x = 10; x < 16; x++) light[y * n + x] = 0.7
    const [src, dst] = [put(light), put(light)]
    kernels.mend_specks(src, dst, n, n, n, 0.02, 0.3)
    const after = get(dst, n * n)
    expect(after[12 * n + 12]).toBeCloseTo(0.1, 6)
    expect(after[20 * n + 32]).toBeCloseTo(0.8, 6)
    expect(after[26 * n + 12]).toBeCloseTo(0.7, 6)
  })
})

describe('approaching a smooth line', () => {
  it('goes all the way below the limit, less beyond it, and leaves what is three limits off', () => {
    const limit = 0.1
    const offs = [0.02, -0.05, 0.1, -0.1, 0.15, 0.2, -0.25, 0.299, 0.3, 0.4, -0.9, 0]
    const n = 12
    const [guide, slope, rest] = [0.2, 6, 0.8].map((v) => put(new Array<number>(n).fill(v)))
    // (6 * 0.2 + 0.8) / 4 = 0.5
    for (const amount of [1, 0.5]) {
      const out = put(offs.map((d) => 0.5 + d))
      bench.kernels.approach(out, guide, slope, rest, n, 0.25, limit, amount)
      const after = get(out, n)
      offs.forEach((d, i) => {
        const far = Math.abs(d) / limit
        const share = far <= 1 ? 1 : far >= 3 ? 0 : (3 - far) / 2
        expect(after[i]).toBeCloseTo(0.5 + d - d * share * amount, 5)
      })
    }
  })
})
