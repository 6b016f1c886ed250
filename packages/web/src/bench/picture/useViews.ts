import {
  makePlan,
  squareSettings,
  type Development,
  type OutputTable,
  type SpaceId,
} from '@dunkelkammer/core'
import { Superseded, type Picture, type View } from '@dunkelkammer/engine/browser'
import { useEffect, useRef, useState } from 'react'
import { atWork, sentence } from '../../api/client'
import { sameGeometry, type Geometry } from './geometry'
import { inSteps } from './inSteps'
import { Latest } from './latest'
import { COARSE, Pace } from './pace'

/** A computed view with what it was computed for. */
export interface Shown {
  view: View
  geometry: Geometry
  development: Development
}

interface Wish {
  picture: Picture
  development: Development
  geometry: Geometry
  layers: boolean
  waveform: boolean
  /** In place of the picture: where this step acts. */
  mask?: 'sharpen' | 'unsharp'
  standOut?: number
  /** Everything without colour that this hue node does not select. */
  selection?: number
  /** Apart from what is kept for the development. */
  beside?: boolean
  highFrom: number
  lowTo: number
  /** The space of the page, and how another device is shown in it. */
  display: SpaceId
  proof?: OutputTable
  stripes?: boolean
}

export interface Views {
  /** The development at the wanted zoom. */
  main?: Shown
  /** The whole picture: histogram and what lies outside the zoomed part. */
  whole?: Shown
  /** What it is compared with at the wanted zoom, while that is looked at. */
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

/** Changes closer together than this are of a hand that moves. */
const MOVING_MS = 300

/** How long a picture that was moved must have been at rest before it is made exactly. */
const REST_MS = 90

/** Waits until then, or until there is something newer. */
const comeToRest = (signal: AbortSignal) =>
  new Promise<void>((done) => {
    const timer = setTimeout(done, REST_MS)
    signal.addEventListener('abort', () => (clearTimeout(timer), done()), { once: true })
  })

/** The same whole picture with fewer pixels. @param share of those along each side */
function coarser(g: Geometry, share: number): Geometry {
  if (share === 1) return g
  const width = Math.max(Math.round(g.width * share), 16)
  const height = Math.max(Math.round(g.height * share), 16)
  return { ...g, width, height, region: { x: 0, y: 0, width, height }, pixel: (g.width * g.pixel) / width }
}

/** Keeps the views of a picture up to date with the wishes, newest first. */
export function useViews(
  wish: Omit<Wish, 'picture' | 'geometry'> & {
    picture?: Picture
    geometry?: Geometry
    fit?: Geometry
    /** What it is compared with, while that is looked at. */
    before?: Development
  },
): Views {
  const {
    picture,
    geometry,
    fit,
    development,
    layers,
    waveform,
    mask,
    standOut,
    selection,
    before,
    highFrom,
    lowTo,
    display,
    stripes,
  } = wish
  // masks are no picture
  const proof = mask || standOut !== undefined || selection !== undefined ? undefined : wish.proof
  const [views, setViews] = useState<Views>({})
  const queues = useRef<Record<'main' | 'whole' | 'before', Latest<Wish>>>(undefined)

  useEffect(() => {
    const queue = (name: 'main' | 'whole' | 'before') => {
      // the pixels of the view before the last are on no canvas any more; new ones each time would keep the
      // collector busy during a drag
      const spent: Uint8ClampedArray<ArrayBuffer>[] = []
      let shownOf: Picture | undefined
      let squaredAs: string | undefined
      let last = { at: -MOVING_MS, width: 0 }
      const pace = new Pace()
      return new Latest<Wish>(async ({ picture: p, geometry: g, ...rest }, signal, giveWay) => {
        try {
          const progress = inSteps((share) => setViews((v) => (v.main ? v : { ...v, share })))
          const reuse = spent.length > 2 ? spent.shift() : undefined
          const show = (view: View, geometry = g) => {
            spent.push(view.rgba)
            const shown: Shown = { view, geometry, development: rest.development }
            setViews((v) => ({ ...v, [name]: shown, problem: undefined, share: undefined }))
          }
          // once there is a picture, a change before the demosaic shows quickly first, exactly right after
          const quick = shownOf === p
          const squared = JSON.stringify(squareSettings(rest.development))
          const begun = performance.now()
          const moving = quick && begun - last.at < MOVING_MS
          const moved = quick && squaredAs !== undefined && squaredAs !== squared
          const whole = g.region.width === g.width && g.region.height === g.height
          // of a picture that is moved as a whole, where it stands is what counts
          const share = !whole ? 1 : moved ? COARSE : moving ? pace.shareFor(g.width * g.height) : 1
          const now = coarser(g, share)
          squaredAs = squared
          const sized = ({ width, height, region }: Geometry) => ({ ...rest, width, height, region })
          const view = await p.view({ ...sized(now), quick, reuse }, signal, progress)
          show(now === g ? view : { ...view, exact: false }, now)
          shownOf = p
          const shown = performance.now()
          // the first of its size has more to do
          if (quick && whole && !moved && last.width === now.width)
            pace.took(shown - begun, now.width * now.height)
          last = { at: shown, width: now.width }
          if ((!view.exact || now !== g) && giveWay()) {
            // as long as the hand moves, all of the machine is for the next quick one
            if (moved || now !== g) await comeToRest(signal)
            if (!signal.aborted) show(await p.view(sized(g), signal, progress))
          }
          // what a moving hand will want is made small beforehand
          const ready = name === 'main' && whole ? coarser(g, pace.shareFor(g.width * g.height)) : g
          if (ready !== g && giveWay()) {
            await comeToRest(signal)
            if (!signal.aborted) await p.view({ ...sized(ready), quick: true }, signal)
          }
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
    const looked = { layers, waveform, mask, standOut, selection, highFrom, lowTo, display, proof, stripes }
    queues.current?.main.push({ picture, development, geometry, ...looked })
  }, [
    picture,
    geometry,
    development,
    layers,
    waveform,
    mask,
    standOut,
    selection,
    highFrom,
    lowTo,
    display,
    proof,
    stripes,
  ])

  const zoomed = geometry && fit && !sameGeometry(geometry, fit)
  useEffect(() => {
    if (!picture || !fit || !zoomed) return
    const clip = { layers: false, highFrom, lowTo, display, proof, stripes }
    queues.current?.whole.push({ picture, development, geometry: fit, waveform, ...clip })
  }, [picture, fit, zoomed, development, waveform, highFrom, lowTo, display, proof, stripes])

  useEffect(() => {
    if (!picture || !geometry || !before) return
    const clip = { layers: false, waveform: false, highFrom, lowTo, display, proof, stripes }
    queues.current?.before.push({ picture, development: before, geometry, beside: true, ...clip })
  }, [picture, geometry, before, highFrom, lowTo, display, proof, stripes])

  // what was compared with something else says nothing of this
  const none = before === undefined
  useEffect(() => {
    if (none) setViews((v) => ({ ...v, before: undefined }))
  }, [none])

  return views
}
