import type { Square } from '@dunkelkammer/core'
import type { GuideKind, Outside } from './CropFrame'
import type { LensProps } from './LensSection'

export interface SquareProps extends LensProps {
  /** What is shown of the picture, and how large it is at full size. */
  square: Square
  grid: boolean
  setGrid(on: boolean): void
  guides: GuideKind
  setGuides(kind: GuideKind): void
  outside: Outside
  setOutside(how: Outside): void
}
