import { OPEN_STAGES } from './layout/stages'
import { AUTOMATICS } from '@dunkelkammer/engine/browser'
import type { Command } from '../commands/commands'
import { RAIL_SCALES } from './tone/ToneRail'
import { SURROUNDS } from './picture/surround'
import type { BenchParts } from './useBench'

/** What can be done at the bench, by key or by name. */
export function benchCommands(bench: BenchParts): Command[] {
  const {
    desk,
    link,
    take,
    clipping,
    setZoom,
    auto,
    chooseStage,
    step,
    undoes,
    redoes,
    picture,
    surround,
    setSurround,
    setDialog,
    setBare,
    setBefore,
    setBeside,
    held,
    railScale,
    setRailScale,
    readings,
    setReadings,
    setLooks,
    grid,
    setGrid,
    setDivider,
    setVariants,
    history,
    setHistory,
  } = bench
  return [
    ...OPEN_STAGES.map((s, i) => ({
      id: `stage-${s.id}`,
      label: `Go to ${s.name}`,
      group: 'Stages' as const,
      keys: `Alt+${i + 1}`,
      run: () => chooseStage(s.id),
    })),
    { id: 'fit', label: 'Show the whole picture', group: 'View', keys: '0', run: () => setZoom('fit') },
    { id: 'zoom1', label: 'Show at 100 %', group: 'View', keys: '1', run: () => setZoom(1) },
    { id: 'zoom2', label: 'Show at 200 %', group: 'View', keys: '2', run: () => setZoom(2) },
    {
      id: 'before',
      label: 'See what it is compared with while held',
      group: 'View',
      keys: 'O',
      run: () => setBefore(true),
      release: () => setBefore(false),
    },
    {
      id: 'divide',
      label: 'Divide the picture from what it is compared with',
      group: 'View',
      keys: 'D',
      run: () => setDivider((at) => (at === undefined ? 0.5 : undefined)),
    },
    {
      id: 'variants',
      label: 'Compare variants of noise, sharpness or enlargement',
      group: 'Work',
      keys: 'V',
      disabled: !picture,
      run: () => setVariants(true),
    },
    {
      id: 'bare',
      label: 'Hide everything but the picture',
      group: 'View',
      keys: 'Q',
      run: () => setBare((b) => !b),
    },
    {
      id: 'beside',
      label: 'Show what it is compared with beside',
      group: 'View',
      keys: 'J',
      run: () => setBeside((b) => !b),
    },
    {
      id: 'clip-hold',
      label: 'Show what is clipped while held',
      group: 'View',
      keys: 'I',
      run: () => clipping.hold(true),
      release: () => clipping.hold(false),
    },
    {
      id: 'readings',
      label: 'Show readings',
      group: 'View',
      keys: 'R',
      run: () => setReadings(readings === 'on' ? 'off' : 'on'),
    },
    {
      id: 'rail',
      label: 'Next scale of the tone rail',
      group: 'View',
      keys: 'H',
      run: () => setRailScale(RAIL_SCALES[(RAIL_SCALES.indexOf(railScale) + 1) % RAIL_SCALES.length]),
    },
    {
      id: 'looks',
      label: 'Choose a look',
      group: 'Work',
      keys: 'L',
      run: () => {
        link({ stage: 'balance' })
        setLooks(true)
      },
    },
    {
      id: 'automatic',
      label: 'Set light and white balance from the picture',
      group: 'Work',
      keys: 'F',
      disabled: !auto.run,
      run: () => auto.run?.(AUTOMATICS, 1),
    },
    {
      id: 'frame',
      label: 'Set the frame',
      group: 'Work',
      keys: 'M',
      run: () => {
        link({ stage: 'square-up', zoom: undefined, at: undefined })
        take(held === 'crop' ? undefined : 'crop')
      },
    },
    {
      id: 'horizon',
      label: 'Level along a line',
      group: 'Work',
      keys: 'W',
      disabled: !picture,
      run: () => {
        link({ stage: 'square-up' })
        take(held === 'horizon' ? undefined : 'horizon')
      },
    },
    {
      id: 'grid',
      label: 'Grid of lines over the picture',
      group: 'View',
      keys: 'G',
      run: () => {
        link({ stage: 'square-up' })
        setGrid(grid === 'on' ? 'off' : 'on')
      },
    },
    { id: 'clip', label: 'Show what is clipped', group: 'View', keys: 'K', run: clipping.toggle },
    {
      id: 'surround',
      label: 'Next brightness of the surround',
      group: 'View',
      keys: 'U',
      run: () =>
        setSurround(SURROUNDS[(SURROUNDS.findIndex((s) => s.id === surround) + 1) % SURROUNDS.length].id),
    },
    { id: 'undo', label: 'Undo', group: 'Work', keys: 'Ctrl+Z', disabled: !undoes, run: desk.undo },
    { id: 'redo', label: 'Redo', group: 'Work', keys: 'Ctrl+Shift+Z', disabled: !redoes, run: desk.redo },
    {
      id: 'grey',
      label: 'Pick a grey in the picture',
      group: 'Work',
      keys: 'N',
      run: () => {
        link({ stage: 'balance' })
        take(held === 'grey' ? undefined : 'grey')
      },
    },
    {
      id: 'history',
      label: 'Show the history',
      group: 'View',
      keys: 'E',
      run: () => setHistory(history === 'open' ? 'closed' : 'open'),
    },
    { id: 'deliver', label: 'Deliver', group: 'Work', keys: 'Ctrl+Enter', run: () => setDialog('deliver') },
    { id: 'next', label: 'Next frame', group: 'Work', keys: 'PageDown', run: () => step(1) },
    { id: 'previous', label: 'Previous frame', group: 'Work', keys: 'PageUp', run: () => step(-1) },
    {
      id: 'palette',
      label: 'Find a command',
      group: 'Work',
      keys: 'Ctrl+K',
      run: () => setDialog('palette'),
    },
    { id: 'keys', label: 'List the keys', group: 'Work', keys: '?', run: () => setDialog('keys') },
  ]
}
