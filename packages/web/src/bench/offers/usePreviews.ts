import type { Development } from '@dunkelkammer/core'
import { fitInto, type Picture, type View } from '@dunkelkammer/engine/browser'
import { useEffect, useRef, useState } from 'react'
import type { Offer } from './offer'

/** Longest sides of a preview, in pixels of the screen. */
const SIDE = 136
export const DOWN = 92

/** How many are made at a time: while one is fetched from the worker, the next is computed. */
const AT_ONCE = 2

interface Made {
  picture: Picture
  of: Development
  views: ReadonlyMap<string, View>
  /** Those that were made of an earlier development stay until they are made anew. */
  fresh: ReadonlySet<string>
}

/** Small views of the picture under each offer, in their order; those that are there stay as more are offered. */
export function usePreviews(
  picture: Picture | undefined,
  development: Development,
  offers: readonly Offer[],
): ReadonlyMap<string, View> {
  const [made, setMade] = useState<Made>()
  const latest = useRef({ offers, made })
  latest.current = { offers, made }
  const names = offers.map((o) => o.key).join()
  useEffect(() => {
    if (!picture) return
    const stop = new AbortController()
    const make = async () => {
      const frame = await picture.square(development)
      const size = fitInto(frame.width, frame.height, SIDE, DOWN)
      const { made: last } = latest.current
      const before = last?.picture === picture ? last : undefined
      let views = before?.views ?? NONE
      let fresh: ReadonlySet<string> = before?.of === development ? before.fresh : new Set<string>()
      const wanted = latest.current.offers.filter((o) => !fresh.has(o.key))
      const next = async (): Promise<void> => {
        const offer = wanted.shift()
        if (!offer || stop.signal.aborted) return
        const region = { x: 0, y: 0, ...size }
        const view = await picture.view(
          { development: offer.apply(development), ...size, region, quick: true, beside: true },
          stop.signal,
        )
        views = new Map(views).set(offer.key, view)
        fresh = new Set(fresh).add(offer.key)
        setMade({ picture, of: development, views, fresh })
        return next()
      }
      await Promise.all(Array.from({ length: AT_ONCE }, next))
    }
    make().catch(() => undefined)
    return () => stop.abort()
  }, [picture, development, names])
  return made && made.picture === picture ? made.views : NONE
}

const NONE: ReadonlyMap<string, View> = new Map()
