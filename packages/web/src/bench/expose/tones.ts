import { CURVE_LINES, type CurveLine, type Triple } from '@dunkelkammer/core'
import { atom } from 'jotai'

/** Line of the curve that is worked on, in the drawer and on the picture alike. */
const chosenAtom = atom<CurveLine>('luminance')
export const curveLineAtom = atom(
  (get) => get(chosenAtom),
  (_, set, line: CurveLine) => {
    if (CURVE_LINES.includes(line)) set(chosenAtom, line)
  },
)

/** Where on the curve's axis the place under the pointer lies. */
export const curveMarkAtom = atom<number | undefined>(undefined)

/** Place of a light on the curve's axis, as the line of the curve sees it. */
export function onAxis([r, g, b]: Triple, line: CurveLine): number {
  const held = [r, g, b].map((v) => Math.max(v, 0))
  const squares = held[0] ** 2 + held[1] ** 2 + held[2] ** 2
  const size = squares > 0 ? (held[0] ** 3 + held[1] ** 3 + held[2] ** 3) / squares : 0
  const light = { red: held[0], green: held[1], blue: held[2], all: held[1], luminance: size }[line]
  return Math.min(Math.sqrt(light), 1)
}
