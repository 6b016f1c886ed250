import type { Patch } from '@dunkelkammer/core'
import { atom, useAtomValue, useSetAtom } from 'jotai'
import type { ComponentProps } from 'react'
import { Handle } from '../picture/Handle'
import { placingAtom } from '../picture/placingAtom'
import { TwoTone } from '../picture/TwoTone'
import { stageAtom, toolAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import type { Place, ToolKind } from '../state/types'
import { changePatch, chosenIdAtom, markedAtom, patchesAtom, removePatch } from './patches'
import { MEND_AVOID, MEND_OUTLINE, MEND_STROKE, MEND_WIRE } from './draw'
import { refillSoon } from './fill'
import { usePath } from '../picture/paths'
import { Ring } from '../picture/Ring'
import { MEND_SPOT } from './tools'

const shownAtom = atom((get) => get(stageAtom) === 'mend' && get(markedAtom))

const MENDING: ReadonlySet<ToolKind> = new Set([MEND_SPOT, MEND_STROKE, MEND_OUTLINE, MEND_AVOID, MEND_WIRE])

/** Whether presses on the picture make patches. */
const mendingAtom = atom((get) => {
  const tool = get(toolAtom)
  return tool !== undefined && MENDING.has(tool)
})

/** Where patches lie, and where the chosen one takes from. */
export function PatchOverlay() {
  const shown = useAtomValue(shownAtom)
  const patches = useAtomValue(patchesAtom)
  const chosen = useAtomValue(chosenIdAtom)
  if (!shown) return null
  return (
    <>
      {patches.map((patch, i) => (
        <PatchMarks key={patch.id} patch={patch} index={i} chosen={patch.id === chosen} />
      ))}
    </>
  )
}

/** What a patch covers, or takes from, as lines on the screen. */
function Shape(props: {
  patch: Patch
  path: readonly Place[]
  by?: readonly [number, number]
  dashed?: boolean
}) {
  const { patch, path, by = [0, 0], dashed } = props
  const placing = useAtomValue(placingAtom)
  const middle = { x: patch.x + by[0], y: patch.y + by[1] }
  if (patch.shape === 'spot' || path.length < 2)
    return <Ring {...middle} radius={patch.radius} dashed={dashed} />
  const points = path.flatMap(({ x, y }) => placing?.toPane({ x: middle.x + x, y: middle.y + y }) ?? [])
  const way = points.map(({ x, y }) => `${x},${y}`).join(' ')
  const dashes = dashed ? '4 3' : undefined
  if (patch.shape === 'outline') return <polygon points={way} strokeDasharray={dashes} />
  const ends = [path[0], path.at(-1)!]
  return (
    <>
      <polyline points={way} strokeDasharray={dashes} strokeLinejoin="round" />
      {ends.map((end, i) => (
        <Ring key={i} x={middle.x + end.x} y={middle.y + end.y} radius={patch.radius} dashed={dashed} />
      ))}
    </>
  )
}

/** What a fill takes nothing from. */
function Avoided({ name }: { name: string }) {
  const placing = useAtomValue(placingAtom)
  const path = usePath(name)
  const way = path.flatMap((p) => placing?.toPane(p) ?? []).map(({ x, y }) => `${x},${y}`)
  return (
    <TwoTone>
      <polygon points={way.join(' ')} strokeDasharray="1 5" />
    </TwoTone>
  )
}

/** Where a patch is taken hold of: its middle, or the middle of a stroke's way. */
const holdOf = ({ shape }: Patch, path: readonly Place[]): Place =>
  (shape === 'stroke' && path[path.length >> 1]) || { x: 0, y: 0 }

function PatchMarks({ patch, index, chosen }: { patch: Patch; index: number; chosen: boolean }) {
  const bench = useBench()
  const placing = useAtomValue(placingAtom)
  const choose = useSetAtom(chosenIdAtom)
  const mending = useAtomValue(mendingAtom)
  const path = usePath(patch.path)
  const { id, radius, source } = patch
  const sourced = chosen && patch.kind !== 'fill'
  const hold = holdOf(patch, path)
  const at = { x: patch.x + hold.x, y: patch.y + hold.y }
  const from = { x: at.x + source[0], y: at.y + source[1] }
  const ends = [placing?.toPane(from), placing?.toPane(at)]
  const name = `Patch ${index + 1}`
  return (
    <>
      <TwoTone faint={!chosen || !patch.on}>
        <Shape patch={patch} path={path} />
        {sourced && <Shape patch={patch} path={path} by={source} dashed />}
        {sourced && ends[0] && ends[1] && (
          <line x1={ends[0].x} y1={ends[0].y} x2={ends[1].x} y2={ends[1].y} strokeDasharray="2 4" />
        )}
      </TwoTone>
      {chosen && patch.avoid && <Avoided name={patch.avoid} />}
      <RoundHandle
        at={at}
        radius={radius}
        label={`${name}: arrow keys move it, Delete deletes it`}
        still={mending && !chosen}
        onTake={() => choose(id)}
        onMove={(to) => {
          changePatch(bench, id, { x: to.x - hold.x, y: to.y - hold.y }, 'Patch moved', `patch ${id}`)
          refillSoon(bench, id, 'Patch moved', `patch ${id}`)
        }}
        onDelete={() => removePatch(bench, id)}
      />
      {sourced && (
        <RoundHandle
          at={from}
          radius={radius}
          label={`Source of ${name.toLowerCase()}: arrow keys move it`}
          onMove={(to) =>
            changePatch(
              bench,
              id,
              { source: [to.x - at.x, to.y - at.y] },
              'Source of a patch',
              `source ${id}`,
            )
          }
        />
      )}
    </>
  )
}

/** Smallest half of a handle on the screen, pixels. */
const LEAST = 7

/** A handle that covers what is round on the sensor. */
function RoundHandle({ radius, ...props }: { radius: number } & Omit<ComponentProps<typeof Handle>, 'half'>) {
  const { x, y } = props.at
  const placing = useAtomValue(placingAtom)
  const [middle, edge] = [placing?.toPane({ x, y }), placing?.toPane({ x: x + radius, y })]
  if (!middle || !edge) return null
  return <Handle {...props} half={Math.max(Math.hypot(edge.x - middle.x, edge.y - middle.y), LEAST)} />
}
