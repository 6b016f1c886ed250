import { aroundMiddle, simplified } from '@dunkelkammer/core'
import { atom, useAtomValue, type PrimitiveAtom } from 'jotai'
import { Drawing, drawingAtom } from '../picture/drawing'
import { PathKeeper } from '../picture/paths'
import { hoverOver, RingUnderPointer } from '../picture/Ring'
import { onSensor } from '../picture/touch'
import { developmentAtom } from '../state/atoms'
import type { Bench, HeldKeys, Hold, Place, ToolKind } from '../state/types'
import { addArea, areaIdAtom, areasAtom } from './areas'
import { brushAtom, holdRadius, penAtom, penSeenAtom, toneBrushAtom, type Brush } from './brush'
import { addShape, changeShape, newShape, wayAtom, type Shape } from './shapes'

/** Between pictures of a stroke that is being painted. */
const DRAFT_MS = 50
/** How far what is kept of a way may be off, long edges: less than a pixel. */
const TOLERANCE = 5e-5

/** Where the last stroke ended: with Shift the next one goes on from there. */
const lastEndAtom = atom<Place | undefined>(undefined)

/** A stroke that grows along places; whatever becomes of it is one step. */
class Growing {
  private readonly shape: Shape
  private readonly keeper = new PathKeeper()
  private readonly since
  private there = false

  constructor(
    private readonly bench: Bench,
    brush: Brush,
    start: Place,
    take: boolean,
    ready: (gesture: string) => void,
  ) {
    const { get } = bench
    this.since = get(developmentAtom)
    const way = take ? 'take' : get(wayAtom) === 'take' ? 'take' : 'add'
    this.shape = newShape({ kind: 'stroke', way, ...brush, ...start })
    ready(this.shape.id)
  }

  put(places: readonly Place[]): void {
    const { path, ...middle } = aroundMiddle(places)
    const part: Partial<Shape> = { ...middle, path: this.keeper.keep(path) }
    const { id } = this.shape
    if (this.there) changeShape(this.bench, id, part, 'Stroke added', id)
    else this.there = addShape(this.bench, { ...this.shape, ...part } as Shape)
  }

  end(): void {
    this.keeper.end()
    this.bench.endGesture()
  }

  cancel(): void {
    this.keeper.end(false)
    if (this.there) this.bench.dropGesture(this.since)
  }
}

/** A place on the sensor, with a pen's pressure where that counts. */
function onWay(bench: Bench, at: Place): Place {
  const place = onSensor(bench, at)
  if (at.pressure === undefined) return place
  bench.set(penSeenAtom, true)
  return bench.get(penAtom) ? { ...place, pressure: at.pressure } : place
}

/**
 * Paints a stroke; the picture follows while the hand goes on.
 * @param ready makes room for it; what that changes is the same step by the gesture's name
 */
function paint(
  bench: Bench,
  at: Place,
  brush: Brush,
  { alt, shift }: HeldKeys,
  ready: (gesture: string) => void = () => undefined,
): Hold {
  const last = bench.get(lastEndAtom)
  const start = onWay(bench, at)
  /** What is kept of the way, and what came since. */
  const kept = shift && last ? [last, start] : [start]
  let fresh: Place[] = []
  const growing = new Growing(bench, brush, kept[0], alt, ready)
  let shown = performance.now()
  const draw = () => bench.set(drawingAtom, [...kept, ...fresh])
  const put = () => {
    // no more than what is new, however long the stroke is
    kept.push(...simplified([kept.at(-1)!, ...fresh], TOLERANCE).slice(1))
    fresh = []
    growing.put(kept)
  }
  draw()
  put()
  const over = () => bench.set(drawingAtom, [])
  return {
    move(to) {
      fresh.push(onWay(bench, to))
      draw()
      if (performance.now() - shown < DRAFT_MS) return
      shown = performance.now()
      put()
    },
    end() {
      over()
      put()
      growing.end()
      bench.set(lastEndAtom, kept.at(-1))
    },
    cancel() {
      over()
      growing.cancel()
    },
  }
}

const sizeTip =
  (brush: PrimitiveAtom<Brush>) =>
  ({ set }: Bench, factor: number) =>
    set(brush, (b) => ({ ...b, radius: holdRadius(b.radius * factor) }))

const tip = (atom: PrimitiveAtom<Brush>) =>
  function Tip() {
    const { radius, softness } = useAtomValue(atom)
    return (
      <>
        <RingUnderPointer radius={radius} core={radius * (1 - softness)} />
        <Drawing />
      </>
    )
  }

export const PAINT_STROKE: ToolKind = {
  id: 'shape-stroke',
  label:
    'Picture: paint what belongs to the mask; with Alt what does not; with Shift straight on from the last stroke',
  stage: 'shape',
  draws: true,
  size: sizeTip(brushAtom),
  Overlay: tip(brushAtom),
  begin: (bench) => ({
    grasp: (at, keys) => paint(bench, at, bench.get(brushAtom), keys),
    hover: hoverOver(bench),
  }),
}

/** EV of the pair of brushes that change tones. */
const BRUSH_EV = 0.7

/** The area that a brush for tones paints into; its first stroke makes it. */
function areaOfTone(bench: Bench, sign: 1 | -1, gesture: string): void {
  const { get, set } = bench
  const there = get(areasAtom).findLast(
    ({ steps }) => Math.sign(steps.dodge?.ev ?? 0) === sign && Object.keys(steps).length === 1,
  )
  if (there) return set(areaIdAtom, there.id)
  const name = sign > 0 ? 'Dodge' : 'Burn'
  addArea(bench, { name, steps: { dodge: { ev: sign * BRUSH_EV } } }, `${name} begun`, gesture)
}

const toneBrush = (sign: 1 | -1, word: string): ToolKind => ({
  id: `shape-${word}`,
  label: `Picture: paint to ${word}, in light strokes; with Alt to take back`,
  stage: 'shape',
  draws: true,
  size: sizeTip(toneBrushAtom),
  Overlay: tip(toneBrushAtom),
  begin: (bench) => ({
    grasp: (at, keys) =>
      paint(bench, at, bench.get(toneBrushAtom), keys, (gesture) => areaOfTone(bench, sign, gesture)),
    hover: hoverOver(bench),
  }),
})

export const DODGE = toneBrush(1, 'dodge')
export const BURN = toneBrush(-1, 'burn')
