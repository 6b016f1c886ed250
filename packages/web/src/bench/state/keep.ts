import type { PrimitiveAtom } from 'jotai'
import type { Store } from './types'

/** Takes what an atom holds from one bench to the next. */
export const keep =
  <T>(atom: PrimitiveAtom<T>) =>
  (from: Store, to: Store): void => {
    to.set(atom, () => from.get(atom))
  }
