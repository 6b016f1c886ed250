import { withPortion } from '@dunkelkammer/core'
import { useAtomValue } from 'jotai'
import { api } from '../../api/client'
import { copiedSettingsAtom } from '../../desk/copied'
import { CopyDialog } from '../../presets/CopyDialog'
import { PresetDialog } from '../../presets/PresetDialog'
import { withShelf } from '../../presets/shelf'
import { developmentAtom, dialogAtom, frameAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import type { Bench, Feature } from '../state/types'
import { findFor } from './apply'
import { presetsOpenAtom } from './open'

/** Chooses what is copied, or what becomes a preset. */
function Dialogs() {
  const { set } = useBench()
  const dialog = useAtomValue(dialogAtom)
  const development = useAtomValue(developmentAtom)
  const { fileName } = useAtomValue(frameAtom)
  const close = () => set(dialogAtom, undefined)
  if (dialog === 'copy') return <CopyDialog {...{ development, fileName }} onClose={close} />
  if (dialog !== 'preset') return null
  return (
    <PresetDialog
      development={development}
      title="New preset"
      onKeep={(preset) => withShelf(() => api.addPreset(preset))}
      onClose={close}
    />
  )
}

function paste(bench: Bench): void {
  const copied = bench.get(copiedSettingsAtom)
  if (!copied) return
  const label = `Settings of ${copied.fileName} pasted`
  bench.adjust((d) => withPortion(d, copied.portion, 1, () => crypto.randomUUID()), label)
  void findFor(bench, copied.portion, label)
}

/** Settings that go from frame to frame: copied, or kept under a name. */
export const presets: Feature = {
  Panel: Dialogs,
  commands: (bench) => [
    {
      id: 'presets',
      label: 'Show the presets',
      group: 'View',
      keys: 'Alt+L',
      run: () => bench.set(presetsOpenAtom, !bench.get(presetsOpenAtom)),
    },
    {
      id: 'new-preset',
      label: 'New preset from these settings',
      group: 'Work',
      keys: 'Alt+K',
      run: () => bench.set(dialogAtom, 'preset'),
    },
    {
      id: 'copy-settings',
      label: 'Copy settings',
      group: 'Work',
      keys: 'Alt+C',
      run: () => bench.set(dialogAtom, 'copy'),
    },
    {
      id: 'paste-settings',
      label: 'Paste settings',
      group: 'Work',
      keys: 'Alt+P',
      disabled: !bench.get(copiedSettingsAtom),
      run: () => paste(bench),
    },
  ],
}
