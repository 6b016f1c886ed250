import { atom, useAtomValue } from 'jotai'
import { developmentAtom, geometryAtom } from '../state/atoms'
import type { Bench, PictureTool, Place, ToolKind } from '../state/types'
import { withStep } from '../steps/withStep'

const centreAtom = atom((get) => get(developmentAtom).steps.edgeBurn.centre)

function CentreOverlay() {
  const g = useAtomValue(geometryAtom)
  const [x, y] = useAtomValue(centreAtom)
  if (!g) return null
  return (
    <svg
      aria-hidden
      className="absolute"
      width="40"
      height="40"
      style={{ left: g.left + x * g.width * g.pixel - 20, top: g.top + y * g.height * g.pixel - 20 }}
    >
      {[
        ['#000', 3],
        ['#fff', 1],
      ].map(([stroke, width]) => (
        <g key={stroke} stroke={stroke as string} strokeWidth={width} fill="none">
          <circle cx="20" cy="20" r="12" />
          <path d="M20 2v10M20 28v10M2 20h10M28 20h10" />
        </g>
      ))}
    </svg>
  )
}

const put = (bench: Bench): NonNullable<PictureTool['grasp']> => {
  const move = ({ x, y }: Place) => {
    const hold = (v: number) => Math.round(Math.min(Math.max(v, 0), 1) * 1000) / 1000
    bench.adjust(
      (d) => withStep(d, 'edgeBurn', { centre: [hold(x), hold(y)] }),
      'Centre of the edge burn',
      'burn centre',
    )
  }
  return (at) => {
    const since = bench.get(developmentAtom)
    move(at)
    return { move, end: () => bench.endGesture(), cancel: () => bench.dropGesture(since) }
  }
}

export const BURN_CENTRE: ToolKind = {
  id: 'centre',
  label: 'Picture: drag the centre of the edge burn',
  stage: 'finish',
  Overlay: CentreOverlay,
  begin: (bench) => ({ grasp: put(bench) }),
}
