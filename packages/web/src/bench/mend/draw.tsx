import { aroundMiddle, MOST_OUTLINE, type Patch } from '@dunkelkammer/core'
import { Drawing, drawingAtom, outline } from '../picture/drawing'
import { keepPath, PathKeeper } from '../picture/paths'
import { hoverOver } from '../picture/Ring'
import { onSensor, sayProblem } from '../picture/touch'
import { developmentAtom, pictureAtom } from '../state/atoms'
import type { Bench, Hold, Place, ToolKind } from '../state/types'
import { fillPatch } from './fill'
import { addPatch, besides, changePatch, chosenAtom, holdRadius, newPatch, suggestionsFor } from './patches'
import { sizeTip, TipUnderPointer } from './tools'

/** Between pictures of a stroke that is being painted. */
const DRAFT_MS = 120

/** A patch that grows along places; whatever becomes of it is one step. */
class Growing {
  private readonly patch: Patch
  private readonly keeper = new PathKeeper()
  private readonly since
  private source: readonly [number, number]
  private there = false
  private gone = false

  constructor(
    private readonly bench: Bench,
    private readonly shape: 'stroke' | 'outline',
    start: Place,
  ) {
    this.since = bench.get(developmentAtom)
    this.patch = { ...newPatch(bench, start), shape }
    this.source = besides(this.patch)
  }

  /** Looks for a source of what begins here, for the time being. */
  begin(): void {
    if (this.patch.kind === 'fill') return
    suggestionsFor(this.bench, { ...this.patch, shape: 'spot' }).then(
      ([best]) => {
        if (best) this.source = best
      },
      () => undefined,
    )
  }

  put(places: readonly Place[]): Patch {
    const { path, ...middle } = aroundMiddle(places)
    const part: Partial<Patch> = { ...middle, path: this.keeper.keep(path), source: [...this.source] }
    if (this.shape === 'outline') {
      const reach = (of: (p: Place) => number) => Math.max(...path.map((p) => Math.abs(of(p))))
      part.radius = holdRadius(
        Math.min(
          reach((p) => p.x),
          reach((p) => p.y),
        ),
      )
    }
    const patch = { ...this.patch, ...part }
    if (this.there) changePatch(this.bench, patch.id, part, 'Patch added', patch.id)
    else addPatch(this.bench, patch, 'Patch added', patch.id)
    this.there = true
    return patch
  }

  /** It is whole: the source that fits all of it is looked for. */
  end(places: readonly Place[]): void {
    const { bench } = this
    const patch = this.put(places)
    this.keeper.end()
    if (patch.kind === 'fill') return void fillPatch(bench, patch.id, 'Patch added', patch.id)
    // however long it takes, it is the same step
    bench.holdGesture(patch.id)
    suggestionsFor(bench, patch).then(
      (all) => {
        if (this.gone) return
        const source = [...(all[0] ?? besides(patch))] as [number, number]
        changePatch(bench, patch.id, { source }, 'Patch added', patch.id)
        bench.endGesture()
        if (all.length === 0) bench.say('Nothing around fits this patch. Drag its source to a place by hand.')
      },
      (error: unknown) => {
        if (!this.gone) sayProblem(bench)(error)
      },
    )
  }

  cancel(): void {
    this.gone = true
    this.keeper.end(false)
    if (this.there) this.bench.dropGesture(this.since)
  }
}

/** Paints a stroke; the picture follows while the hand goes on. */
function paint(bench: Bench, at: Place): Hold {
  const places = [onSensor(bench, at)]
  const growing = new Growing(bench, 'stroke', places[0])
  let last = performance.now()
  growing.begin()
  bench.set(drawingAtom, [...places])
  return {
    move(to) {
      places.push(onSensor(bench, to))
      bench.set(drawingAtom, [...places])
      if (performance.now() - last < DRAFT_MS) return
      last = performance.now()
      growing.put(places)
    },
    end() {
      bench.set(drawingAtom, [])
      growing.end(places)
    },
    cancel() {
      bench.set(drawingAtom, [])
      growing.cancel()
    },
  }
}

/** Makes a patch of an outline. */
function close(bench: Bench, corners: readonly Place[]): void {
  const [xs, ys] = [corners.map((p) => p.x), corners.map((p) => p.y)]
  const [width, height] = [Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys)]
  if (width === 0 || height === 0) return
  if (width * height > MOST_OUTLINE)
    return bench.say('This outline is too large for one patch. Draw it around a smaller part.')
  const growing = new Growing(bench, 'outline', corners[0])
  growing.end(corners)
}

export const MEND_STROKE: ToolKind = {
  id: 'stroke',
  label: 'Picture: paint over what is to go',
  stage: 'mend',
  draws: true,
  size: sizeTip,
  Overlay: () => (
    <>
      <TipUnderPointer />
      <Drawing />
    </>
  ),
  begin: (bench) => ({ grasp: (at) => paint(bench, at), hover: hoverOver(bench) }),
}

export const MEND_OUTLINE: ToolKind = {
  id: 'outline',
  label: 'Picture: draw around what is to go, or click its corners; the first corner closes it',
  stage: 'mend',
  Overlay: () => <Drawing closes />,
  begin: (bench) => ({
    grasp: (at) => outline(bench, at, (corners) => close(bench, corners)),
    hover: hoverOver(bench),
  }),
}

/** Marks what the chosen fill takes nothing from, and has it filled again. */
function avoid(bench: Bench, corners: readonly Place[]): void {
  const patch = bench.get(chosenAtom)
  if (patch?.kind !== 'fill') return
  const label = 'Place a fill takes nothing from'
  changePatch(bench, patch.id, { avoid: keepPath(corners) }, label, `avoid ${patch.id}`)
  bench.take(undefined)
  void fillPatch(bench, patch.id, label, `avoid ${patch.id}`)
}

export const MEND_AVOID: ToolKind = {
  id: 'avoid',
  label: 'Picture: draw around what the fill is not to take from, or click its corners',
  stage: 'mend',
  Overlay: () => <Drawing closes />,
  begin: (bench) => ({
    grasp: (at) => outline(bench, at, (corners) => avoid(bench, corners)),
    hover: hoverOver(bench),
  }),
}

/** Two clicks say where a wire ends; it is followed from one to the other, and filled. */
function wire(bench: Bench, at: Place): Hold {
  const before = bench.get(drawingAtom)
  const end = onSensor(bench, at)
  return {
    move: () => undefined,
    end() {
      if (before.length === 0) return bench.set(drawingAtom, [end])
      bench.set(drawingAtom, [])
      void takeWire(bench, before[0], end)
    },
    cancel: () => bench.set(drawingAtom, before),
  }
}

async function takeWire(bench: Bench, from: Place, to: Place): Promise<void> {
  const { get } = bench
  try {
    const found = await get(pictureAtom)!.ask('wire', get(developmentAtom), from, to)
    if (!found) return bench.say('No wire is seen between these two places. Click closer to its ends.')
    const { path, ...middle } = aroundMiddle(found.places)
    const patch: Patch = {
      ...newPatch(bench, from),
      ...{ kind: 'fill', shape: 'stroke', softness: WIRE_SOFTNESS, ...middle },
      ...{ path: keepPath(path), radius: holdRadius(found.radius) },
    }
    addPatch(bench, patch, 'Wire removed', patch.id)
    await fillPatch(bench, patch.id, 'Wire removed', patch.id)
  } catch (error) {
    sayProblem(bench)(error)
  }
}

/** The edge of a wire's patch lies beside the wire. */
const WIRE_SOFTNESS = 0.15

export const MEND_WIRE: ToolKind = {
  id: 'wire',
  label: 'Picture: click one end of a wire, then the other',
  stage: 'mend',
  Overlay: () => <Drawing closes />,
  begin: (bench) => ({ grasp: (at) => wire(bench, at), hover: hoverOver(bench) }),
}
