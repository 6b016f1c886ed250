import type { Development } from '@dunkelkammer/core'
import { fitInto, type Picture, type View } from '@dunkelkammer/engine/browser'
import { useEffect, useRef, useState } from 'react'
import type { Offer } from './offer'

/** Longest sides of a preview, in pixels of the screen. */
const SIDE = 136
export const DOWN = 92

/** Small views of the picture under each offer, one after the other; those that are there stay as more are offered. */
export function usePreviews(
  picture: Picture | undefined,
  development: Development,
  offers: readonly Offer[],
): ReadonlyMap<string, View> {
  const [made, setMade] = useState<{ of: Development; views: ReadonlyMap<string, View> }>()
  const latest = useRef({ offers, made })
  latest.current = { offers, made }
  const names = offers.map((o) => o.key).join()
  useEffect(() => {
    if (!picture) return
    const stop = new AbortController()
    const make = async () => {
      const frame = await picture.square(development)
      const size = fitInto(frame.width, frame.height, SIDE, DOWN)
      const { made: before } = latest.current
      let views = before?.of === development ? before.views : new Map<string, View>()
      for (const offer of latest.current.offers) {
        if (stop.signal.aborted) return
        if (views.has(offer.key)) continue
        const region = { x: 0, y: 0, ...size }
        const view = await picture.view(
          { development: offer.apply(development), ...size, region },
          stop.signal,
        )
        views = new Map(views).set(offer.key, view)
        setMade({ of: development, views })
      }
    }
    make().catch(() => undefined)
    return () => stop.abort()
  }, [picture, development, names])
  return made?.views ?? NONE
}

const NONE: ReadonlyMap<string, View> = new Map()
