import type { Development, Factor, SharpenSettings } from '@dunkelkammer/core'
import { numbersOf, type Shown } from '../steps/StepNumbers'
import { withStep } from '../steps/withStep'

/** What variants differ in. */
export const VARIED = ['noise', 'sharpen', 'enlarge'] as const
export type Varied = (typeof VARIED)[number]
export const MOST_VARIANTS = 4

export const VARIED_LABELS: Record<Varied, string> = {
  noise: 'Noise',
  sharpen: 'Sharpness',
  enlarge: 'Enlargement',
}

/** Numbers of a variant's column. */
export const VARIED_NUMBERS: Record<Varied, readonly Shown[]> = {
  noise: numbersOf('noise', 'luminance', 'colour', 'keepDetail'),
  sharpen: numbersOf('sharpen', 'amount', 'radius', 'edges'),
  enlarge: numbersOf('enlarge', 'detail'),
}

/** A development with one of its parts as in another. */
export const withVaried = (d: Development, part: Varied, from: Development): Development => ({
  ...d,
  steps: { ...d.steps, [part]: from.steps[part] },
})

/** Variants to begin with: as it is, and three around it. */
export function firstVariants(d: Development, part: Varied): Development[] {
  if (part === 'noise') {
    const by = (luminance: number, keepDetail: number) =>
      withStep(d, 'noise', { mode: 'hand', luminance, colour: 1, keepDetail })
    return [d, withStep(d, 'noise', { mode: 'automatic' }), by(0.6, 0), by(1, 0.5)]
  }
  if (part === 'sharpen') {
    const by = (settings: Partial<SharpenSettings>) => withStep(d, 'sharpen', settings)
    const { radius } = d.steps.sharpen
    return [d, by({ amount: 0.6 }), by({ amount: 1 }), by({ amount: 1, radius: Math.min(radius * 1.5, 6) })]
  }
  const by = (factor: Factor, detail: number) => withStep(d, 'enlarge', { factor, detail })
  return [d, by(2, 0), by(2, 1), by(4, 1)]
}

/** The part as the picture itself would have it. */
export function automaticPart(
  d: Development,
  part: Varied,
  measured: Partial<SharpenSettings> | undefined,
): Development {
  if (part === 'noise') return withStep(d, 'noise', { mode: 'automatic' })
  if (part === 'sharpen') return withStep(d, 'sharpen', { amount: 1, edges: 0, threshold: 1, ...measured })
  return withStep(d, 'enlarge', { detail: 1 })
}
