import { FINDABLE, wishOf, type Findable, type FindWish } from '@dunkelkammer/core'
import { atom, useAtomValue } from 'jotai'
import { useEffect, useState } from 'react'
import { sentence } from '../../api/client'
import { developmentAtom, pictureAtom, toolAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import type { Bench } from '../state/types'
import { PICK_ALIKE } from './alike'
import { areaIdAtom } from './areas'
import { PICK_REGIONS } from './regions'
import { addShape, newShape, THINGS, wayAtom, type ShapeOf } from './shapes'

/** What is being looked for, and how far that is. */
const lookingForAtom = atom<Findable | undefined>(undefined)
const farAtom = atom(0)
/** From here on nothing is said about whether it may be something else. */
const SURE = 0.6

const say = (what: Findable) => THINGS[what].toLowerCase()

/** Looks for something in the picture, and adds it as a shape where it is there. */
async function addFound(bench: Bench, what: Findable): Promise<void> {
  const { get, set } = bench
  const picture = get(pictureAtom)
  if (!picture) return
  const area = get(areaIdAtom)
  // by the time the answer is there another one, or none, may be looked for, or for another area
  const wanted = () =>
    get(lookingForAtom) === what && get(pictureAtom) === picture && get(areaIdAtom) === area
  set(lookingForAtom, what)
  set(farAtom, 0)
  try {
    const sure = await picture.ask(
      'found',
      get(developmentAtom),
      { kind: 'found', what },
      (share) => wanted() && set(farAtom, share),
    )
    if (!wanted()) return
    if (sure === 0) return bench.say(`No ${say(what)} was found in this picture.`)
    const shape = newShape({ kind: 'found', what, way: get(wayAtom) })
    if (addShape(bench, shape, THINGS[what])) bench.endGesture()
    if (sure < SURE) bench.say(`This may not be all ${say(what)}, or not only that: look at the mask.`)
  } catch (error) {
    if (wanted()) bench.say(sentence(error))
  } finally {
    if (get(lookingForAtom) === what) set(lookingForAtom, undefined)
  }
}

function addDistance(bench: Bench): void {
  if (addShape(bench, newShape({ kind: 'distance', way: bench.get(wayAtom) }))) bench.endGesture()
}

function addAlike(bench: Bench): void {
  if (!addShape(bench, newShape({ kind: 'alike', way: bench.get(wayAtom) }))) return
  bench.endGesture()
  bench.take(PICK_ALIKE)
}

/** What the picture finds by itself. */
export function FindButtons() {
  const bench = useBench()
  const looking = useAtomValue(lookingForAtom)
  const far = useAtomValue(farAtom)
  const dividing = useAtomValue(toolAtom) === PICK_REGIONS
  return (
    <div className="mt-1 grid grid-cols-12 gap-1" role="group" aria-label="Found in the picture">
      {FINDABLE.map((what) => (
        <button
          key={what}
          className="button col-span-3 !px-0"
          aria-busy={looking === what}
          title={looking === what ? 'Click to stop looking' : `Looks for ${say(what)} in this picture`}
          onClick={() =>
            looking === what ? bench.set(lookingForAtom, undefined) : void addFound(bench, what)
          }
        >
          {looking === what ? `${Math.round(far * 100)} %` : THINGS[what]}
        </button>
      ))}
      <button
        className="button col-span-4 !px-0"
        title="What is about as far away, as the picture lets one guess"
        onClick={() => addDistance(bench)}
      >
        Distance
      </button>
      <button
        className="button col-span-4 !px-0"
        aria-pressed={dividing}
        title="The parts that the picture divides into, by clicks"
        onClick={() => bench.toggleTool(PICK_REGIONS)}
      >
        Regions
      </button>
      <button
        className="button col-span-4 !px-0"
        title="What resembles places that you click, and not others"
        onClick={() => addAlike(bench)}
      >
        Like this
      </button>
    </div>
  )
}

/** How sure it is what a shape found in this picture. */
export function FoundHere({ shape }: { shape: ShapeOf<'found'> | ShapeOf<'distance'> }) {
  const { get } = useBench()
  const picture = useAtomValue(pictureAtom)
  const wish = JSON.stringify(wishOf(shape))
  const [answer, put] = useState<{ wish: string; sure?: number; problem?: string }>()
  useEffect(() => {
    let over = false
    picture?.ask('found', get(developmentAtom), JSON.parse(wish) as FindWish).then(
      (sure) => !over && put({ wish, sure }),
      (error: unknown) => !over && put({ wish, problem: sentence(error) }),
    )
    return () => void (over = true)
  }, [picture, wish, get])
  const { sure, problem } = answer?.wish === wish ? answer : {}
  const thing = shape.kind === 'found' ? say(shape.what) : 'near and far'
  return (
    <p className="hint" role="status">
      {problem ??
        (sure === undefined
          ? `Looking for ${thing}`
          : sure === 0
            ? `No ${thing} was found in this picture: the shape holds nothing here.`
            : shape.kind === 'found' && shape.corrections.length > 0
              ? 'Found, and corrected by hand in this picture.'
              : `Looked for anew in every picture. Here it is ${Math.round(sure * 100)} % sure.`)}
    </p>
  )
}
