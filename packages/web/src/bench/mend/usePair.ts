import type { Development, Patch } from '@dunkelkammer/core'
import type { View } from '@dunkelkammer/engine/browser'
import { useAtomValue } from 'jotai'
import { useEffect, useState } from 'react'
import { makeSpot } from '../refine/useSpot'
import { developmentAtom, pictureAtom, squareAtom } from '../state/atoms'
import { usePath } from '../picture/paths'

/** A patch and a little around it, without any patches and with all of them. */
export interface Pair {
  before: View
  after: View
}

/** Small pictures are made when nothing has changed for so long, one after the other. */
const REST_MS = 500
/** Sides of what is seen, pixels; of what is larger its middle is. */
const SEEN = { least: 48, most: 320, around: 1.4 } as const

let last: Promise<unknown> = Promise.resolve()
/** Waits for its turn: the picture that is worked on comes first, and small ones do not crowd it. */
const inTurn = (make: () => Promise<void>): void => {
  last = last.then(make, make).catch(() => undefined)
}

const unpatched = (d: Development): Development => ({ ...d, off: [...d.off, 'patches'] })

/** How a patch looks before and after, small. @param seen whether somebody sees it */
export function usePair(patch: Patch, seen: boolean): Pair | undefined {
  const picture = useAtomValue(pictureAtom)
  const development = useAtomValue(developmentAtom)
  const square = useAtomValue(squareAtom)
  const path = usePath(patch.path)
  const [pair, setPair] = useState<Pair>()
  const { x, y, radius } = patch
  const reach = path.reduce((most, p) => Math.max(most, Math.abs(p.x), Math.abs(p.y)), 0)
  const extent = patch.shape === 'outline' ? reach : reach + radius
  useEffect(() => {
    const long = Math.max(square.size.width, square.size.height)
    const at = square.toFrame(x * long, y * long)
    if (!seen || !picture || !at) return
    const side = Math.round(Math.min(Math.max(2 * SEEN.around * extent * long, SEEN.least), SEEN.most))
    const stop = new AbortController()
    const make = async () => {
      if (stop.signal.aborted) return
      const spot = {
        ...{ picture, width: side, height: side, beside: true },
        at: { x: at[0] / square.width, y: at[1] / square.height },
      }
      const before = await makeSpot({ ...spot, development: unpatched(development) }, true, stop.signal)
      const after = await makeSpot({ ...spot, development }, true, stop.signal)
      setPair({ before, after })
    }
    const timer = setTimeout(() => inTurn(make), REST_MS)
    return () => {
      clearTimeout(timer)
      stop.abort()
    }
  }, [seen, picture, development, square, x, y, extent])
  return pair
}
