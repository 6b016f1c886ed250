import { partOf, sameSettings, stepById, STEP_IDS, type Development } from '@dunkelkammer/core'
import { fitInto, type Picture, type View } from '@dunkelkammer/engine/browser'
import { useEffect, useRef, useState } from 'react'
import type { Offer } from './offer'

/** Longest sides of a preview, in pixels of the screen. */
const SIDE = 136
export const DOWN = 92

/** How many are made at a time: while one is fetched from the worker, the next is computed. */
const AT_ONCE = 2
/** How long settings rest before previews follow them: a drag has the machine for itself. */
const REST_MS = 350

const SENSOR_STEPS = STEP_IDS.filter((id) => stepById.get(id)!.takes === 'mosaic')
/** Whether a development has the sensor's mosaic treated otherwise, which takes many times as long as all else. */
const isSlow = (to: Development, from: Development): boolean =>
  SENSOR_STEPS.some((id) => !sameSettings(partOf(to, id), partOf(from, id)))

interface Made {
  picture: Picture
  of: Development
  views: ReadonlyMap<string, View>
  /** Those that were made of an earlier development stay until they are made anew. */
  fresh: ReadonlySet<string>
}

/**
 * Small views of the picture under each offer, in their order but for slow ones, which come last; those that are there
 * stay as more are offered.
 */
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
    const { made: last } = latest.current
    const before = last?.picture === picture ? last : undefined
    const make = async () => {
      const frame = await picture.square(development)
      const size = fitInto(frame.width, frame.height, SIDE, DOWN)
      let views = before?.views ?? NONE
      let fresh: ReadonlySet<string> = before?.of === development ? before.fresh : new Set<string>()
      const wanted = latest.current.offers.filter((o) => !fresh.has(o.key))
      const slow: { offer: Offer; applied: Development }[] = []
      const take = () => {
        for (let offer = wanted.shift(); offer; offer = wanted.shift()) {
          const applied = offer.apply(development)
          if (!isSlow(applied, development)) return { offer, applied }
          slow.push({ offer, applied })
        }
        return slow.shift()
      }
      const next = async (): Promise<void> => {
        const taken = stop.signal.aborted ? undefined : take()
        if (!taken) return
        const { offer, applied } = taken
        const region = { x: 0, y: 0, ...size }
        const view = await picture.view(
          { development: applied, ...size, region, quick: true, beside: true },
          stop.signal,
        )
        views = new Map(views).set(offer.key, view)
        fresh = new Set(fresh).add(offer.key)
        setMade({ picture, of: development, views, fresh })
        return next()
      }
      await Promise.all(Array.from({ length: AT_ONCE }, next))
    }
    const timer = setTimeout(
      () => void make().catch(() => undefined),
      before && before.of !== development ? REST_MS : 0,
    )
    return () => {
      clearTimeout(timer)
      stop.abort()
    }
  }, [picture, development, names])
  return made && made.picture === picture ? made.views : NONE
}

const NONE: ReadonlyMap<string, View> = new Map()
