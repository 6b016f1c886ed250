import { MOST_REGIONS, REGION_COUNTS } from '@dunkelkammer/core'
import { atom, useAtomValue, useSetAtom } from 'jotai'
import { useEffect, useRef } from 'react'
import type { Picture } from '@dunkelkammer/engine/browser'
import { Latest } from '../picture/latest'
import { hoverOver, underAtom } from '../picture/Ring'
import { onSensor } from '../picture/touch'
import { TwoTone } from '../picture/TwoTone'
import { developmentAtom, pictureAtom, toolAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import type { Bench, Place, ToolKind } from '../state/types'
import { NumberControl } from '../../controls/NumberControl'
import { areaIdAtom, newId } from './areas'
import { RegionSteps, takenAtom } from './RegionSteps'
import { addShape, changeShape, newShape, shapeAtom, wayAtom, type ShapeOf } from './shapes'
import { Way } from './Way'

/** How many regions the picture divides into for the next click. */
const countAtom = atom<number>(REGION_COUNTS.start)
/** The borders of the region under the pointer. */
const outlineAtom = atom<readonly (readonly Place[])[]>([])

const hold = (count: number) => Math.min(Math.max(Math.round(count), REGION_COUNTS.least), REGION_COUNTS.most)
/** The wheel makes regions larger and smaller; so much finer per notch. */
const STEP = 1.5
/** How far a drag goes before it takes what it is over, long edges. */
const APART = 0.004

const place = ({ x, y }: Place): [number, number] => [Number(x.toFixed(5)), Number(y.toFixed(5))]

/** Takes the region at a place, and while it is dragged those that it comes over; it is one step. */
function take(bench: Bench, from: Place, leave: boolean) {
  bench.set(takenAtom, undefined)
  const held = bench.get(shapeAtom)
  const count = bench.get(countAtom)
  const way = leave ? 'take' : bench.get(wayAtom)
  const since = bench.get(developmentAtom)
  // those that are as fine and do the same are one shape
  const joins =
    held?.kind === 'regions' && held.count === count && (leave ? held.way === 'take' : held.way !== 'take')
  const shape = joins ? held : newShape({ kind: 'regions', count, way, at: [place(from)] })
  const gesture = joins ? newId() : shape.id
  let last = from
  const put = (to: Place) => {
    last = to
    changeShape(
      bench,
      shape.id,
      (now) => (now.kind === 'regions' && now.at.length < MOST_REGIONS ? { at: [...now.at, place(to)] } : {}),
      joins ? 'Region added' : 'Regions added',
      gesture,
    )
  }
  if (joins) put(from)
  else if (!addShape(bench, shape)) return undefined
  return {
    move(to: Place) {
      if (Math.hypot(to.x - last.x, to.y - last.y) >= APART) put(to)
    },
    end() {
      bench.endGesture()
      const area = bench.get(areaIdAtom)
      if (area !== undefined && !leave) bench.set(takenAtom, { area, at: last })
    },
    cancel: () => bench.dropGesture(since),
  }
}

export const PICK_REGIONS: ToolKind = {
  id: 'shape-regions',
  label: 'Picture: click a region, or drag across several; the wheel with Alt makes them finer or coarser',
  stage: 'shape',
  Overlay: RegionUnderPointer,
  size: ({ get, set }, factor) => set(countAtom, hold(get(countAtom) * (factor > 1 ? STEP : 1 / STEP))),
  begin: (bench) => ({
    grasp(at, { alt }) {
      const taking = take(bench, onSensor(bench, at), alt)
      return {
        move: (to) => taking?.move(onSensor(bench, to)),
        end: () => taking?.end(),
        cancel: () => taking?.cancel(),
      }
    },
    hover: hoverOver(bench),
  }),
}

interface Asked {
  picture: Picture
  at: Place
  count: number
}

/** The region that a click would take. */
function RegionUnderPointer() {
  const { get, set } = useBench()
  const picture = useAtomValue(pictureAtom)
  const at = useAtomValue(underAtom)
  const count = useAtomValue(countAtom)
  const ways = useAtomValue(outlineAtom)
  const queue = useRef<Latest<Asked>>(undefined)
  useEffect(() => {
    const latest = (queue.current = new Latest<Asked>(
      async ({ picture: p, at: { x, y }, count: n }) => {
        const found = await p.ask('regionAt', get(developmentAtom), x, y, n)
        // meanwhile the pointer or the tool may have left
        if (get(underAtom))
          set(
            outlineAtom,
            found.map((way) => way.map(([u, v]) => ({ x: u, y: v }))),
          )
      },
      () => false,
    ))
    return () => {
      latest.close()
      set(outlineAtom, [])
    }
  }, [get, set])
  useEffect(() => {
    if (picture && at) queue.current?.push({ picture, at, count })
    else set(outlineAtom, [])
  }, [set, picture, at, count])
  return (
    <>
      <TwoTone>
        {ways.map((places, i) => (
          <Way key={i} places={places} closed />
        ))}
      </TwoTone>
      <RegionSteps />
    </>
  )
}

/** How fine the regions are: those of the shape in the hand, or the next ones. */
export function RegionControls({ shape }: { shape?: ShapeOf<'regions'> }) {
  const bench = useBench()
  const next = useAtomValue(countAtom)
  const setNext = useSetAtom(countAtom)
  const held = useAtomValue(toolAtom) === PICK_REGIONS
  const count = shape?.count ?? next
  return (
    <>
      <NumberControl
        label="Regions of the picture"
        value={count}
        min={REGION_COUNTS.least}
        max={REGION_COUNTS.most}
        step={1}
        digits={0}
        start={REGION_COUNTS.start}
        scale={{
          to: (v) => Math.log(v / REGION_COUNTS.least) / Math.log(REGION_COUNTS.most / REGION_COUNTS.least),
          from: (s) => REGION_COUNTS.least * (REGION_COUNTS.most / REGION_COUNTS.least) ** s,
        }}
        onChange={(v) => {
          setNext(hold(v))
          if (shape) changeShape(bench, shape.id, { count: hold(v) }, 'Size of regions', `count ${shape.id}`)
        }}
        onEnd={bench.endGesture}
      />
      {shape && (
        <button className="button w-full" aria-pressed={held} onClick={() => bench.toggleTool(PICK_REGIONS)}>
          {held ? 'Click on the picture' : 'Add regions'}
        </button>
      )}
      {held && <p className="hint">Alt subtracts. The wheel with Alt makes them finer or coarser.</p>}
    </>
  )
}
