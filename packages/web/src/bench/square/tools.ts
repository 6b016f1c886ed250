import { traceLine } from '@dunkelkammer/engine/browser'
import { aroundSensor, drawLine, onPicture, sayProblem } from '../picture/touch'
import { developmentAtom, pictureAtom, squareAtom } from '../state/atoms'
import type { ToolKind } from '../state/types'
import { GuideOverlay, MarkedOverlay } from './LineOverlays'
import { FrameOverlay } from './FrameOverlay'
import { markEdge } from './squaring'
import { anotherGuide, levelledAlong, withGuides } from './squaringTools'

/** Shortest edge that can be followed, parts of the frame. */
const SHORTEST_EDGE = 0.03

export const HORIZON: ToolKind = {
  id: 'horizon',
  draws: true,
  label: 'Picture: draw along a horizon or an upright',
  stage: 'square-up',
  begin: (bench) => ({
    grasp: drawLine(bench, (from, to) => {
      const next = levelledAlong(bench.get(developmentAtom), bench.get(squareAtom), from, to)
      if (!next) return
      bench.adjust(() => next, 'Levelled along a line')
      bench.take(undefined)
    }),
  }),
}

const guides = (is: 'upright' | 'level', label: string, drawn: string): ToolKind => ({
  id: is,
  draws: true,
  label,
  stage: 'square-up',
  Overlay: GuideOverlay,
  begin: (bench) => ({
    grasp: drawLine(bench, (from, to) => {
      const picture = bench.get(pictureAtom)
      const [a, b] = [aroundSensor(bench, from), aroundSensor(bench, to)]
      const next = anotherGuide(bench.get(developmentAtom), is, a, b)
      if (!picture || !next) return
      bench.adjust((d) => withGuides(d, picture, bench.get(squareAtom), next), drawn)
    }),
  }),
})
export const DRAW_UPRIGHTS = guides('upright', 'Picture: draw along vertical lines', 'Vertical drawn')
export const DRAW_LEVELS = guides('level', 'Picture: draw along horizontal lines', 'Horizontal drawn')

export const MARK_STRAIGHT: ToolKind = {
  id: 'straight',
  draws: true,
  label: 'Picture: draw along edges that should be straight',
  stage: 'square-up',
  Overlay: MarkedOverlay,
  begin: (bench) => ({
    grasp: drawLine(bench, (from, to) => {
      const picture = bench.get(pictureAtom)
      if (!picture || Math.hypot(to.x - from.x, to.y - from.y) < SHORTEST_EDGE) return
      traceLine(picture, bench.get(developmentAtom), onPicture(bench, from), onPicture(bench, to)).then(
        (traced) => {
          bench.say(undefined)
          markEdge(bench, traced)
        },
        sayProblem(bench),
      )
    }),
  }),
}

export const SET_FRAME: ToolKind = {
  id: 'crop',
  label: 'Picture: the crop is being set',
  stage: 'square-up',
  whole: true,
  Overlay: FrameOverlay,
}
