import type { Development } from '@dunkelkammer/core'

type Steps = Development['steps']

/** A development with one step's settings changed in part. */
export const withStep = <K extends keyof Steps>(
  d: Development,
  id: K,
  part: Partial<Steps[K]>,
): Development => ({
  ...d,
  steps: { ...d.steps, [id]: { ...d.steps[id], ...part } },
})
