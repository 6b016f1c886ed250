import type { Geometry } from '../picture/geometry'
import { useAtomValue } from 'jotai'
import { TwoTone } from '../picture/TwoTone'
import { geometryAtom, stageAtom } from '../state/atoms'
import { gridAtom } from './settings'

/** The grid, where it is wanted. */
export function GridOverlay() {
  const geometry = useAtomValue(geometryAtom)
  const stage = useAtomValue(stageAtom)
  const wanted = useAtomValue(gridAtom)
  return wanted && stage === 'square-up' && geometry && <LineGrid geometry={geometry} />
}

/** A grid over the picture, for judging lines. */
function LineGrid({ geometry: g }: { geometry: Geometry }) {
  const width = g.width * g.pixel
  const height = g.height * g.pixel
  const step = Math.max(width, height) / 16
  const lines = (side: number) => {
    const half = side / 2
    const count = Math.floor(half / step)
    return Array.from({ length: 2 * count + 1 }, (_, i) => half + (i - count) * step)
  }
  return (
    <div className="pointer-events-none absolute inset-0 overflow-hidden" data-testid="grid">
      <TwoTone faint>
        <g transform={`translate(${g.left} ${g.top})`}>
          {lines(width).map((x) => (
            <line key={`x${x}`} x1={x} y1={0} x2={x} y2={height} />
          ))}
          {lines(height).map((y) => (
            <line key={`y${y}`} x1={0} y1={y} x2={width} y2={y} />
          ))}
        </g>
      </TwoTone>
    </div>
  )
}
