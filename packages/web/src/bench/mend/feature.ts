import {
  chosenAtom,
  chosenIdAtom,
  holdRadius,
  mannerAtom,
  markedAtom,
  nextSource,
  patchesAtom,
  removePatch,
  changePatch,
  walkPatches,
} from './patches'
import type { Bench, Feature } from '../state/types'
import { MEND_OUTLINE, MEND_STROKE, MEND_WIRE } from './draw'
import { duplicate, fillPatch, refillSoon } from './fill'
import { findDust, mendDust, proposedAtom } from './dust'
import { standOutGainAtom, standsOutAtom } from '../state/looking'
import { MendDrawer } from './MendDrawer'
import { MendOverlay } from './MendOverlay'
import { MEND_SPOT } from './tools'

/** By how much a key makes a spot larger or smaller. */
const STEP = 1.1

function resize(bench: Bench, by: number): void {
  const { get, set } = bench
  const patch = get(chosenAtom)
  // an outline has no width
  if (patch?.shape === 'outline') return
  const radius = holdRadius((patch ?? get(mannerAtom)).radius * by)
  set(mannerAtom, (m) => ({ ...m, radius }))
  if (!patch) return
  changePatch(bench, patch.id, { radius }, 'Radius of a patch', `radius ${patch.id}`)
  refillSoon(bench, patch.id, 'Radius of a patch', `radius ${patch.id}`)
}

/** Another source of the chosen patch; what is filled is filled anew. */
function anotherSource(bench: Bench): void {
  const patch = bench.get(chosenAtom)
  if (patch?.kind === 'fill') void fillPatch(bench, patch.id, 'Patch filled anew')
  else nextSource(bench)
}

/** Repairs of single places. */
export const mend: Feature = {
  drawer: { stage: 'mend', Sections: MendDrawer },
  Overlay: MendOverlay,
  keeps: [
    (from, to) => to.set(mannerAtom, from.get(mannerAtom)),
    (from, to) => to.set(markedAtom, from.get(markedAtom)),
    (from, to) => to.set(standsOutAtom, from.get(standsOutAtom)),
    (from, to) => to.set(standOutGainAtom, from.get(standOutGainAtom)),
  ],
  commands: (bench) => {
    const { get, set } = bench
    const none = get(patchesAtom).length === 0
    const idle = get(chosenAtom) === undefined
    return [
      {
        id: 'mend-spot',
        label: 'Mend spots',
        group: 'Mend',
        keys: 'B',
        run: () => bench.toggleTool(MEND_SPOT),
      },
      {
        id: 'mend-stroke',
        label: 'Paint strokes',
        group: 'Mend',
        keys: 'Alt+B',
        run: () => bench.toggleTool(MEND_STROKE),
      },
      {
        id: 'mend-outline',
        label: 'Draw outlines',
        group: 'Mend',
        keys: 'Z',
        run: () => bench.toggleTool(MEND_OUTLINE),
      },
      {
        id: 'mend-wire',
        label: 'Remove wires',
        group: 'Mend',
        keys: 'Alt+Z',
        run: () => bench.toggleTool(MEND_WIRE),
      },
      {
        id: 'patch-larger',
        label: 'Larger patch',
        group: 'Mend',
        keys: 'Alt+ArrowUp',
        run: () => resize(bench, STEP),
      },
      {
        id: 'patch-smaller',
        label: 'Smaller patch',
        group: 'Mend',
        keys: 'Alt+ArrowDown',
        run: () => resize(bench, 1 / STEP),
      },
      {
        id: 'patch-next',
        label: 'Next patch, at 100 %',
        group: 'Mend',
        keys: 'A',
        disabled: none,
        run: () => walkPatches(bench, 1),
      },
      {
        id: 'patch-previous',
        label: 'Previous patch, at 100 %',
        group: 'Mend',
        keys: 'Alt+A',
        disabled: none,
        run: () => walkPatches(bench, -1),
      },
      {
        id: 'patch-source',
        label: 'Find another source',
        group: 'Mend',
        keys: 'C',
        disabled: idle,
        run: () => anotherSource(bench),
      },
      {
        id: 'patch-delete',
        label: 'Delete the chosen patch',
        group: 'Mend',
        disabled: idle,
        run: () => removePatch(bench, get(chosenIdAtom)!),
      },
      {
        id: 'patch-duplicate',
        label: 'Duplicate the chosen patch',
        group: 'Mend',
        disabled: idle,
        run: () => duplicate(bench, get(chosenIdAtom)!),
      },
      {
        id: 'dust-find',
        label: 'Find dust',
        group: 'Mend',
        run: () => {
          bench.chooseStage('mend')
          void findDust(bench)
        },
      },
      {
        id: 'dust-mend',
        label: 'Mend all dust that is marked',
        group: 'Mend',
        disabled: !get(proposedAtom)?.length,
        run: () => void mendDust(bench, get(proposedAtom) ?? []),
      },
      {
        id: 'stand-out',
        label: 'Make spots stand out',
        group: 'Mend',
        run: () => {
          bench.chooseStage('mend')
          set(standsOutAtom, !get(standsOutAtom))
        },
      },
      {
        id: 'patch-marks',
        label: 'Mark patches on the picture',
        group: 'Mend',
        keys: 'Y',
        run: () => set(markedAtom, !get(markedAtom)),
      },
    ]
  },
}
