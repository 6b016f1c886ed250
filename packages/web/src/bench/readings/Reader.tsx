import type { Pin } from '@dunkelkammer/contract'
import type { Development, Reading, SpaceId } from '@dunkelkammer/core'
import type { Picture } from '@dunkelkammer/engine/browser'
import { useAtomValue } from 'jotai'
import { useEffect, useRef } from 'react'
import { Latest } from '../picture/latest'
import { pictureAtom, pinsAtom, squaredAtom } from '../state/atoms'
import { useBench, usePublished } from '../state/bench'
import { displayAtom, readingWantedAtom, pointerAtom } from '../state/looking'
import type { Place } from '../state/types'
import { pinnedAtom, readingAtom, underAtom } from './kinds'

/** Averaged so far to either side, in sensor pixels. */
const RADIUS = 2
/** How long what is dragged must have been at rest before the pinned places are read. */
const REST_MS = 120

interface Asked {
  picture: Picture
  development: Development
  display: SpaceId
}

async function readPins({ picture, development, display, places }: Asked & { places: readonly Pin[] }) {
  const long = Math.max(picture.width, picture.height)
  const square = await picture.square(development)
  const out: (Reading | undefined)[] = []
  for (const pin of places) {
    const at = square.toFrame(pin.x * long, pin.y * long)
    const [x, y] = at ? [at[0] / square.width, at[1] / square.height] : [-1, -1]
    // what the frame does not show is not read
    const within = x >= 0 && y >= 0 && x <= 1 && y <= 1
    out.push(within ? await picture.ask('read', development, x, y, RADIUS, display) : undefined)
  }
  return out
}

/** Reads places of the picture while readings are shown, the newest wish first. */
export function Reader() {
  const wanted = useAtomValue(readingAtom)
  usePublished(readingWantedAtom, wanted)
  return wanted && <Reads />
}

function Reads() {
  const { set } = useBench()
  const picture = useAtomValue(pictureAtom)
  const { development } = useAtomValue(squaredAtom)
  const display = useAtomValue(displayAtom)
  const hover = useAtomValue(pointerAtom)
  const places = useAtomValue(pinsAtom)
  const hovers = useRef<Latest<Asked & { at: Place }>>(undefined)
  const pins = useRef<Latest<Asked & { places: readonly Pin[] }>>(undefined)
  useEffect(() => {
    const never = () => false
    hovers.current = new Latest(
      async ({ picture: p, development: d, display: s, at }) =>
        set(underAtom, await p.ask('read', d, at.x, at.y, RADIUS, s)),
      never,
    )
    pins.current = new Latest(async (asked) => set(pinnedAtom, await readPins(asked)), never)
    return () => {
      hovers.current?.close()
      pins.current?.close()
    }
  }, [set])
  useEffect(() => {
    if (picture && hover) hovers.current?.push({ picture, development, display, at: hover })
    else set(underAtom, undefined)
  }, [set, picture, development, display, hover])
  useEffect(() => {
    if (!picture || places.length === 0) return set(pinnedAtom, [])
    const timer = setTimeout(() => pins.current?.push({ picture, development, display, places }), REST_MS)
    return () => clearTimeout(timer)
  }, [set, picture, development, display, places])
  return null
}
