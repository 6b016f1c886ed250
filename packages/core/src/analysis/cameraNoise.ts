import { log2, exp2 } from '../math'
import type { FrameMetadata } from '../raw'
import type { NoiseOf } from '../steps/noise/stabilise'

/** Noise of a camera by sensitivity, measured once from even fields; a grows with ISO, b with its square. */
interface CameraNoise {
  make: string
  model: string
  /** In ascending order of ISO. */
  at: readonly (readonly [iso: number, a: number, b: number])[]
}

/**
 * Cameras whose files say nothing of their noise. A new one is a line here: variance = a * signal + b, signal 1 at
 * saturation.
 */
const CAMERAS: readonly CameraNoise[] = [
  {
    make: 'Ostrava & Linde',
    model: 'Veldrom 2',
    at: [
      [100, 3.6e-5, 2.6e-8],
      [400, 1.44e-4, 1.9e-7],
      [1600, 5.8e-4, 2.4e-6],
      [6400, 2.3e-3, 3.6e-5],
      [25600, 9.2e-3, 5.6e-4],
    ],
  },
]

/** The stored noise of a camera at a frame's sensitivity, between and beyond the measured ones by powers. */
export function cameraNoise({
  make,
  model,
  iso,
}: Pick<FrameMetadata, 'make' | 'model' | 'iso'>): readonly NoiseOf[] | undefined {
  const known = CAMERAS.find((c) => c.make === make && c.model === model)
  if (!known || !iso || iso <= 0) return undefined
  const { at } = known
  let k = 0
  while (k < at.length - 2 && at[k + 1][0] < iso) k++
  const [low, high] = [at[k], at[k + 1]]
  const t = log2(iso / low[0]) / log2(high[0] / low[0])
  const between = (i: 1 | 2) => low[i] * exp2(t * log2(high[i] / low[i]))
  return [{ a: between(1), b: between(2) }]
}
