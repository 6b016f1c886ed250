import {
  fits,
  made,
  MOST_AREAS,
  READY_AREAS,
  READY_NEEDS,
  AreaSchema,
  type Area,
  type ReadyArea,
  type Scene,
  type Thing,
  type ToneSpread,
} from '@dunkelkammer/core'
import { atom, useAtomValue } from 'jotai'
import { useEffect, useState } from 'react'
import { sentence } from '../../api/client'
import type { Offer } from '../offers/offer'
import { aroundSensor } from '../picture/touch'
import { developmentAtom, pictureAtom, squareAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { newId, withAreas } from './areas'

/** Whether ready areas are being chosen. */
export const readyOpenAtom = atom(false)

export interface ReadyOffer extends Offer {
  /** The area that the picture is given; an ordinary one. */
  area(): Area
}

/** What is known of the picture so far. */
interface Known {
  tones?: ToneSpread
  things: ReadonlySet<Thing>
  /** What is not in it. */
  missing: readonly Thing[]
  /** What is being looked for, or nothing any more. */
  next: Thing | 'done'
  problem?: string
}
const NOTHING: Known = { things: new Set(), missing: [], next: READY_NEEDS[0] }

const offerOf = (ready: ReadyArea, scene: Scene): ReadyOffer => {
  const area = (): Area => ({ ...AreaSchema.parse({ id: newId() }), ...made(ready, scene) })
  return {
    ...{ key: ready.id, name: ready.name, about: ready.about, group: 'For this picture' },
    area,
    apply: (d) => (d.steps.areas.areas.length < MOST_AREAS ? withAreas(d, (all) => [...all, area()]) : d),
  }
}

/** The ready areas that fit the picture, more of them as more is found in it. */
export function useReady(): Omit<Known, 'things' | 'tones'> & { offers: readonly ReadyOffer[] } {
  const bench = useBench()
  const picture = useAtomValue(pictureAtom)
  const square = useAtomValue(squareAtom)
  const [known, setKnown] = useState(NOTHING)
  const { get } = bench
  useEffect(() => {
    if (!picture) return
    let over = false
    const put = (part: (now: Known) => Partial<Known>) =>
      !over && setKnown((now) => ({ ...now, ...part(now) }))
    const look = async () => {
      const development = get(developmentAtom)
      const tones = await picture.ask('toneSpread', development)
      put(() => ({ tones }))
      for (const thing of READY_NEEDS) {
        if (over) return
        put(() => ({ next: thing }))
        const wish = thing === 'distance' ? { kind: thing } : ({ kind: 'found', what: thing } as const)
        const sure = await picture.ask('found', development, wish)
        put(({ things, missing }) =>
          sure > 0 ? { things: new Set(things).add(thing) } : { missing: [...missing, thing] },
        )
      }
    }
    setKnown(NOTHING)
    look().then(
      () => put(() => ({ next: 'done' })),
      (error: unknown) => put(() => ({ next: 'done', problem: sentence(error) })),
    )
    return () => void (over = true)
  }, [picture, get])
  const { tones, things, ...rest } = known
  if (!tones || square.width === 0) return { ...rest, offers: [] }
  const at = (u: number, v: number) => {
    const { x, y } = aroundSensor(bench, { x: u, y: v })
    return [x, y] as const
  }
  const scene = { at, tones, things }
  return { ...rest, offers: READY_AREAS.filter((r) => fits(r, scene)).map((r) => offerOf(r, scene)) }
}
