import type { NoiseFinding } from '@dunkelkammer/engine/browser'
import type { Softening } from './useSoftness'
import type { DrawerProps } from '../steps/props'

/** A step whose reach over the picture can be seen. */
export type Masked = 'sharpen' | 'unsharp'

export interface RefineProps extends DrawerProps {
  noise?: NoiseFinding
  softness: Softening
  mask?: Masked
  setMask(mask: Masked | undefined): void
  /** Pixels of the finished picture. */
  finished: { width: number; height: number }
  onCompare(): void
}
