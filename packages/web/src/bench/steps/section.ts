import type { Development, StepId } from '@dunkelkammer/core'
import { memo, type ComponentType, type FunctionComponent } from 'react'

const sameSteps = (a: Development, b: Development, steps: readonly StepId[]) =>
  steps.every(
    (id) =>
      a.steps[id] === b.steps[id] &&
      a.strength[id] === b.strength[id] &&
      a.off.includes(id) === b.off.includes(id),
  )

/**
 * A section of a drawer that is drawn anew only where its own steps change, or anything but the development does:
 * a control that is dragged must not wait for all the others. Within it the development may be old but for its steps.
 */
export function section<P extends { development: Development }>(
  steps: readonly StepId[],
  component: FunctionComponent<P>,
): ComponentType<P> {
  return memo(component, (a, b) =>
    (Object.keys({ ...a, ...b }) as (keyof P)[]).every((key) =>
      key === 'development' ? sameSteps(a.development, b.development, steps) : a[key] === b[key],
    ),
  ) as unknown as ComponentType<P>
}
