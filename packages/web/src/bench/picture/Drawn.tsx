import { useAtomValue } from 'jotai'
import { drawnAtom, geometryAtom, toolAtom } from '../state/atoms'
import { TwoTone } from './TwoTone'

/** What the tool in the hand draws over the picture. */
export function Drawn() {
  const g = useAtomValue(geometryAtom)
  const drawn = useAtomValue(drawnAtom)
  const Overlay = useAtomValue(toolAtom)?.Overlay
  if (!g) return null
  const [width, height] = [g.width * g.pixel, g.height * g.pixel]
  return (
    <>
      {Overlay && (
        <div className="pointer-events-none absolute inset-0 overflow-hidden">
          <Overlay />
        </div>
      )}
      {drawn && (
        <TwoTone>
          <line
            x1={g.left + drawn.from.x * width}
            y1={g.top + drawn.from.y * height}
            x2={g.left + drawn.to.x * width}
            y2={g.top + drawn.to.y * height}
          />
        </TwoTone>
      )}
    </>
  )
}
