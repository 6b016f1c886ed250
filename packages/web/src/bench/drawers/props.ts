import type { CameraColour, Development, FileProfile } from '@dunkelkammer/core'

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
