import { keep } from '../state/keep'
import type { Bench, Feature, ToolKind } from '../state/types'
import { areaIdAtom, areasAtom, removeArea, seeWithout, walkAreas } from './areas'
import { brushAtom, toneBrushAtom } from './brush'
import { DRAW_OUTLINE, DRAW_OVAL, DRAW_RAMP } from './draw'
import { MaskWorks, peekAtom, shownAtom } from './maskView'
import { BURN, DODGE, PAINT_STROKE } from './paint'
import { ShapeDrawer } from './ShapeDrawer'
import { readyOpenAtom } from './ready'
import { ReadyPanel } from './ReadyPanel'
import { ShapeLayers } from './ShapeLayers'

const TOOLS: readonly { tool: ToolKind; label: string; keys: string }[] = [
  { tool: PAINT_STROKE, label: 'Paint a mask', keys: 'Alt+S' },
  { tool: DRAW_RAMP, label: 'Draw a ramp', keys: 'Alt+R' },
  { tool: DRAW_OVAL, label: 'Draw an oval', keys: 'Alt+V' },
  { tool: DRAW_OUTLINE, label: 'Draw an outline for a mask', keys: 'Alt+U' },
  { tool: DODGE, label: 'Dodge', keys: 'Alt+G' },
  { tool: BURN, label: 'Burn', keys: 'Alt+N' },
]

/** Parts of the picture with settings of their own. */
export const shape: Feature = {
  drawer: { stage: 'shape', Sections: ShapeDrawer },
  Overlay: ShapeLayers,
  Panel: ReadyPanel,
  Works: MaskWorks,
  keeps: [keep(brushAtom), keep(toneBrushAtom), keep(shownAtom)],
  commands(bench: Bench) {
    const { get, set } = bench
    const id = get(areaIdAtom)
    const idle = id === undefined || !get(areasAtom).some((a) => a.id === id)
    return [
      ...TOOLS.map(({ tool, label, keys }) => ({
        id: tool.id,
        label,
        group: 'Shape' as const,
        keys,
        run: () => bench.toggleTool(tool),
      })),
      {
        id: 'area-ready',
        label: 'Choose a ready area',
        group: 'Shape',
        keys: 'Alt+Y',
        run: () => {
          bench.chooseStage('shape')
          set(readyOpenAtom, true)
        },
      },
      {
        id: 'area-next',
        label: 'Next area',
        group: 'Shape',
        keys: 'Alt+PageDown',
        disabled: get(areasAtom).length === 0,
        run: () => {
          bench.chooseStage('shape')
          walkAreas(bench, 1)
        },
      },
      {
        id: 'area-previous',
        label: 'Previous area',
        group: 'Shape',
        keys: 'Alt+PageUp',
        disabled: get(areasAtom).length === 0,
        run: () => {
          bench.chooseStage('shape')
          walkAreas(bench, -1)
        },
      },
      {
        id: 'area-delete',
        label: 'Delete the chosen area',
        group: 'Shape',
        disabled: idle,
        run: () => removeArea(bench, id!),
      },
      {
        id: 'area-without',
        label: 'See the picture without the chosen area while held',
        group: 'Shape',
        keys: ',',
        disabled: idle,
        run: () => seeWithout(bench, id),
        release: () => seeWithout(bench, undefined),
      },
      {
        id: 'mask-peek',
        label: 'See the mask of the chosen area while held',
        group: 'Shape',
        keys: '.',
        disabled: idle,
        run: () => set(peekAtom, true),
        release: () => set(peekAtom, false),
      },
      {
        id: 'mask-show',
        label: 'Show the mask of the chosen area',
        group: 'Shape',
        keys: 'Alt+.',
        run: () => set(shownAtom, !get(shownAtom)),
      },
    ]
  },
}
