import { makePlan, startAfterKept, type Development } from '@dunkelkammer/core'
import { Superseded, type Picture, type View } from '@dunkelkammer/engine/browser'
import { useEffect, useRef, useState } from 'react'
import { atWork, sentence } from '../api/client'
import { sameGeometry, type Geometry } from './geometry'
import { inSteps } from './inSteps'
import { Latest } from './latest'

/** A computed view with the geometry it was computed for. */
export interface Shown {
  view: View
  geometry: Geometry
}

interface Wish {
  picture: Picture
  development: Development
  geometry: Geometry
  layers: boolean
  waveform: boolean
  highFrom: number
  lowTo: number
}

export interface Views {
  /** The development at the wanted zoom. */
  main?: Shown
  /** The whole picture: histogram and what lies outside the zoomed part. */
  whole?: Shown
  /** The untouched raw at the wanted zoom, while it is held. */
  before?: Shown
  share?: number
  problem?: string
}

/** Same key, same demosaiced picture. */
const keptKey = (d: Development) => makePlan(d, 'srgb').developKey

const useless = (a: Wish, b: Wish) =>
  a.picture !== b.picture ||
  !sameGeometry(a.geometry, b.geometry) ||
  keptKey(a.development) !== keptKey(b.development)

/** Keeps the views of a picture up to date with the wishes, newest first. */
export function useViews(
  wish: Omit<Wish, 'picture' | 'geometry'> & {
    picture?: Picture
    geometry?: Geometry
    fit?: Geometry
    before: boolean
  },
): Views {
  const { picture, geometry, fit, development, layers, waveform, before, highFrom, lowTo } = wish
  const [views, setViews] = useState<Views>({})
  const queues = useRef<Record<'main' | 'whole' | 'before', Latest<Wish>>>(undefined)

  useEffect(() => {
    const queue = (name: 'main' | 'whole' | 'before') => {
      // the pixels of the view before the last are on no canvas any more; new ones each time would keep the
      // collector busy during a drag
      const spent: Uint8ClampedArray<ArrayBuffer>[] = []
      let shownOf: Picture | undefined
      return new Latest<Wish>(async ({ picture: p, geometry: g, ...rest }, signal) => {
        try {
          const progress = inSteps((share) => setViews((v) => (v.main ? v : { ...v, share })))
          const reuse = spent.length > 2 ? spent.shift() : undefined
          const size = { width: g.width, height: g.height, region: g.region, reuse }
          const show = (view: View) => {
            spent.push(view.rgba)
            setViews((v) => ({ ...v, [name]: { view, geometry: g }, problem: undefined, share: undefined }))
          }
          // once there is a picture, a change before the demosaic shows quickly first, exactly right after
          const quick = shownOf === p
          const view = await p.view({ ...rest, ...size, quick }, signal, progress)
          show(view)
          shownOf = p
          if (!view.exact) show(await p.view({ ...rest, ...size }, signal, progress))
        } catch (error) {
          if (!(error instanceof Superseded)) setViews((v) => ({ ...v, problem: sentence(error) }))
        }
      }, useless)
    }
    queues.current = { main: queue('main'), whole: queue('whole'), before: queue('before') }
    const all = queues.current
    return () => Object.values(all).forEach((q) => q.close())
  }, [])

  // another picture: nothing of the old one may stay
  useEffect(() => setViews({}), [picture])

  useEffect(() => {
    if (!picture || !geometry) return
    atWork()
    queues.current?.main.push({ picture, development, geometry, layers, waveform, highFrom, lowTo })
  }, [picture, geometry, development, layers, waveform, highFrom, lowTo])

  const zoomed = geometry && fit && !sameGeometry(geometry, fit)
  useEffect(() => {
    if (!picture || !fit || !zoomed) return
    const clip = { layers: false, highFrom, lowTo }
    queues.current?.whole.push({ picture, development, geometry: fit, waveform, ...clip })
  }, [picture, fit, zoomed, development, waveform, highFrom, lowTo])

  useEffect(() => {
    if (!picture || !geometry || !before) return
    // the demosaiced picture is shared, so only what follows it is as at the start
    const untouched = startAfterKept(development)
    const clip = { layers: false, waveform: false, highFrom, lowTo }
    queues.current?.before.push({ picture, development: untouched, geometry, ...clip })
  }, [picture, geometry, before, keptKey(development), highFrom, lowTo])

  return views
}
