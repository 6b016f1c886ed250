import type { CameraColour, Development, FileProfile, StepId } from '@dunkelkammer/core'
import type { View } from '@dunkelkammer/engine/browser'
import type { ToolId } from '../state/tools'

/** What every drawer works with. */
export interface DrawerProps {
  development: Development
  /** The camera's colours, once the file is open. */
  camera?: CameraColour
  /** The maker's own rendering, where the file brings one. */
  profile?: FileProfile
  /** Changes the settings; see VersionDesk.adjust. */
  adjust(change: (development: Development) => Development, label: string, gesture?: string): void
  endGesture(): void
  /** The tool in the hand, and how to take one up or put it away. */
  tool?: ToolId
  take(tool: ToolId | undefined): void
  /** The whole picture as it is shown, where a drawer wants it: it changes with every movement. */
  view?: View
}

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

/** Changes a part of one step's settings, as the controls of a drawer do. */
export const changer =
  <K extends keyof Steps & StepId>({ adjust }: Pick<DrawerProps, 'adjust'>, id: K) =>
  (part: Partial<Steps[K]> | ((now: Steps[K]) => Partial<Steps[K]>), label: string, gesture?: string) =>
    adjust((d) => withStep(d, id, typeof part === 'function' ? part(d.steps[id]) : part), label, gesture)
