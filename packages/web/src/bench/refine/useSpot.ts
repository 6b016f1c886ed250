import type { Development } from '@dunkelkammer/core'
import { Superseded, type Picture, type View } from '@dunkelkammer/engine/browser'
import { useEffect, useRef, useState } from 'react'
import { sentence } from '../../api/client'
import { Latest } from '../picture/latest'
import type { Place } from '../state/types'

/** What is wanted of a spot: some pixels of the finished picture around a place. */
export interface SpotWish {
  picture: Picture
  development: Development
  at: Place
  /** Pixels of the finished picture. */
  width: number
  height: number
  /** Apart from the main view: what is kept for that stays. */
  beside?: boolean
}

/** Pixels of the finished picture around a place, held inside it. */
export async function makeSpot(wish: SpotWish, quick: boolean, signal: AbortSignal): Promise<View> {
  const { picture, development, at, beside } = wish
  const { finished } = await picture.square(development)
  const width = Math.min(wish.width, finished.width)
  const height = Math.min(wish.height, finished.height)
  const along = (v: number, size: number, full: number) =>
    Math.round(Math.min(Math.max(v * full - size / 2, 0), full - size))
  const region = {
    x: along(at.x, width, finished.width),
    y: along(at.y, height, finished.height),
    width,
    height,
  }
  return picture.view({ development, ...finished, region, quick, beside }, signal)
}

/** A spot at full size, kept up to date: quickly first while something moves, then exactly. */
export function useSpot(wish: SpotWish | undefined): { view?: View; problem?: string } {
  const [state, setState] = useState<{ view?: View; problem?: string }>({})
  const queue = useRef<Latest<SpotWish>>(undefined)
  useEffect(() => {
    let shownOf: Picture | undefined
    const made = new Latest<SpotWish>(
      async (next, signal, giveWay) => {
        try {
          const quick = shownOf === next.picture
          const view = await makeSpot(next, quick, signal)
          setState({ view })
          shownOf = next.picture
          if (!view.exact && giveWay()) setState({ view: await makeSpot(next, false, signal) })
        } catch (error) {
          if (!(error instanceof Superseded)) setState((s) => ({ ...s, problem: sentence(error) }))
        }
      },
      (a, b) => a.picture !== b.picture,
    )
    queue.current = made
    return () => made.close()
  }, [])
  useEffect(() => {
    if (wish) queue.current?.push(wish)
    else setState({})
  }, [wish])
  return state
}
