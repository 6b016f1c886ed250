import { MOST_CORRECTIONS, simplified, type Correction } from '@dunkelkammer/core'
import { useAtomValue } from 'jotai'
import { Drawing, drawingAtom } from '../picture/drawing'
import { hoverOver } from '../picture/Ring'
import { onSensor } from '../picture/touch'
import { TwoTone } from '../picture/TwoTone'
import { toolAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import type { Bench, Hold, Place, ToolKind } from '../state/types'
import { changeShape, shapeAtom, type Shape, type ShapeOf } from './shapes'
import { Way } from './Way'

/** How far the corners of a stroke may leave its way, long edges. */
const CORNERS = 0.002

const held = (shape: Shape | undefined) => (shape?.kind === 'found' ? shape : undefined)

/** Puts a stroke over what belongs to what was found, or does not; it is one step. */
function stroke(bench: Bench, from: Place, belongs: boolean): Hold {
  let places = [onSensor(bench, from)]
  const clear = () => bench.set(drawingAtom, [])
  return {
    move(to) {
      places = [...places, onSensor(bench, to)]
      bench.set(drawingAtom, places)
    },
    end() {
      clear()
      const shape = held(bench.get(shapeAtom))
      if (!shape) return
      if (shape.corrections.length >= MOST_CORRECTIONS.strokes)
        return bench.say(`There can be no more than ${MOST_CORRECTIONS.strokes} strokes.`)
      const at = simplified(places, CORNERS)
        .slice(0, MOST_CORRECTIONS.corners)
        .map(({ x, y }): [number, number] => [Number(x.toFixed(5)), Number(y.toFixed(5))])
      const corrections = [...shape.corrections, { belongs, at }]
      changeShape(bench, shape.id, { corrections }, belongs ? 'Belongs to it' : 'Does not belong')
    },
    cancel: clear,
  }
}

const correct = (belongs: boolean, id: string, label: string): ToolKind => ({
  id,
  label,
  stage: 'shape',
  Overlay: Corrections,
  begin: (bench) => ({
    grasp: (at, { alt }) => stroke(bench, at, alt ? !belongs : belongs),
    hover: hoverOver(bench),
  }),
})

export const BELONGS = correct(
  true,
  'shape-belongs',
  'Picture: stroke over what belongs; with Alt what does not',
)
export const DOES_NOT = correct(
  false,
  'shape-does-not-belong',
  'Picture: stroke over what does not belong; with Alt what does',
)

/** The strokes so far: what does not belong in dashes. */
function Corrections() {
  const shape = held(useAtomValue(shapeAtom))
  return (
    <>
      <TwoTone>
        {shape?.corrections.map(({ belongs, at }, i) => (
          <StrokeWay key={i} at={at} belongs={belongs} />
        ))}
      </TwoTone>
      <Drawing />
    </>
  )
}

function StrokeWay({ at, belongs }: Correction) {
  const places = at.map(([x, y]) => ({ x, y }))
  // a click is a short stroke
  const way = places.length > 1 ? places : [places[0], { x: places[0].x + 0.004, y: places[0].y }]
  return <Way places={way} dashed={!belongs} />
}

/** Strokes that correct what was found in this picture. */
export function CorrectControls({ shape }: { shape: ShapeOf<'found'> }) {
  const bench = useBench()
  const tool = useAtomValue(toolAtom)
  const { corrections } = shape
  const put = (next: Correction[], label: string) =>
    changeShape(bench, shape.id, { corrections: next }, label)
  return (
    <>
      <div className="mt-1 grid grid-cols-2 gap-1">
        {[
          { kind: BELONGS, label: 'This belongs' },
          { kind: DOES_NOT, label: 'This does not' },
        ].map(({ kind, label }) => (
          <button
            key={kind.id}
            className="button !px-1"
            aria-pressed={tool === kind}
            title={kind.label}
            onClick={() => bench.toggleTool(kind)}
          >
            {label}
          </button>
        ))}
      </div>
      {corrections.length > 0 && (
        <div className="mt-1 grid grid-cols-2 gap-1">
          <button
            className="button !px-1"
            onClick={() => put(corrections.slice(0, -1), 'Last stroke taken back')}
          >
            Without the last
          </button>
          <button className="button !px-1" onClick={() => put([], 'As it was found')}>
            As it was found
          </button>
        </div>
      )}
      {(tool === BELONGS || tool === DOES_NOT) && (
        <p className="hint">Stroke over it on the picture. The strokes are for this picture alone.</p>
      )}
    </>
  )
}
