import { curveFunction } from '@dunkelkammer/core'
import { onSensor, pullLight, sayProblem } from '../picture/touch'
import { developmentAtom, pictureAtom } from '../state/atoms'
import type { Bench, PictureTool, Place, ToolKind } from '../state/types'
import { withStep } from '../steps/withStep'
import { movePoint, pointAt } from './curvePoints'
import { AreaOverlay } from './AreaOverlay'
import { curveLineAtom, curveMarkAtom, onAxis } from './tones'

/** Pixels of the screen for the whole of a curve. */
const REACH = 300
/** Smallest side of an area of interest, long edge 1. */
const SMALLEST = 0.01
const MOST_AREAS = 12

const bend =
  (bench: Bench): NonNullable<PictureTool['grasp']> =>
  (at) => {
    const line = bench.get(curveLineAtom)
    return pullLight(bench, at, 'curve', (light) => {
      const x = Math.min(Math.max(onAxis(light, line), 0.02), 0.98)
      const { curve } = bench.get(developmentAtom).steps
      const shape = curveFunction(curve, line)
      const start = pointAt(curve[line], x, shape ? shape(x) : x)
      if (!start) return undefined
      const [px, py] = start.points[start.index]
      return (up) => {
        const points = movePoint(start.points, start.index, px, py + up / REACH)
        bench.adjust((d) => withStep(d, 'curve', { [line]: points }), 'Curve adjusted on the picture', 'bend')
      }
    })
  }

/** Asks where on the curve the place under the pointer lies; what the pointer has left meanwhile is not asked for. */
function marker(bench: Bench): (at: Place | undefined) => void {
  const { get, set } = bench
  let asked = 0
  return (at) => {
    const mine = ++asked
    const picture = get(pictureAtom)
    if (!at || !picture) return set(curveMarkAtom, undefined)
    setTimeout(() => {
      if (mine !== asked) return
      void picture.ask('lightBefore', get(developmentAtom), 'curve', at.x, at.y).then((light) => {
        if (mine === asked) set(curveMarkAtom, onAxis(light, get(curveLineAtom)))
      }, sayProblem(bench))
    }, 16)
  }
}

export const BEND_CURVE: ToolKind = {
  id: 'curve',
  label: 'Picture: drag a tone up or down to bend the curve; Enter takes the tone under the cross',
  stage: 'expose',
  begin: (bench) => ({ grasp: bend(bench), hover: marker(bench) }),
}

const mark =
  (bench: Bench): NonNullable<PictureTool['grasp']> =>
  (from) => {
    const a = onSensor(bench, from)
    let index = -1
    const since = bench.get(developmentAtom)
    return {
      move(to) {
        const b = onSensor(bench, to)
        const area = {
          x: Math.min(a.x, b.x),
          y: Math.min(a.y, b.y),
          width: Math.abs(a.x - b.x),
          height: Math.abs(a.y - b.y),
        }
        if (index < 0 && (area.width < SMALLEST || area.height < SMALLEST)) return
        bench.adjust(
          (d) => {
            if (index < 0) index = Math.min(d.interest.length, MOST_AREAS - 1)
            return { ...d, interest: [...d.interest.slice(0, index), area, ...d.interest.slice(index + 1)] }
          },
          'Area marked',
          'mark area',
        )
      },
      end: () => bench.endGesture(),
      cancel: () => bench.dropGesture(since),
    }
  }

export const MARK_AREA: ToolKind = {
  id: 'interest',
  draws: true,
  label: 'Picture: draw a rectangle around what matters',
  stage: 'expose',
  Overlay: AreaOverlay,
  begin: (bench) => ({ grasp: mark(bench) }),
}
