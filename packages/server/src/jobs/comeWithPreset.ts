import type { PresetEntry } from '@dunkelkammer/contract'
import { startSettings, type SettingsServices } from './startSettings'

/** Frames that come in within this time of each other are looked at by one job. */
const TOGETHER_MS = 1500

/** Has found in frames that come in what their preset leaves to each picture. */
export class ComeWithPreset {
  private readonly waiting = new Map<string, { preset: PresetEntry; ids: string[] }>()
  private timer?: ReturnType<typeof setTimeout>

  constructor(private readonly services: SettingsServices) {}

  add(frameId: string, preset: PresetEntry): void {
    const known = this.waiting.get(preset.id)
    if (known) known.ids.push(frameId)
    else this.waiting.set(preset.id, { preset, ids: [frameId] })
    clearTimeout(this.timer)
    this.timer = setTimeout(() => this.start(), TOGETHER_MS)
  }

  close(): void {
    clearTimeout(this.timer)
  }

  private start(): void {
    for (const { preset, ids } of this.waiting.values()) {
      const { automatic } = preset.portion
      const give = { kind: 'changes' as const, changes: [], how: 'value' as const, automatic }
      try {
        startSettings(this.services, { ids, label: preset.name, give })
      } catch {
        // the frames have been removed since
      }
    }
    this.waiting.clear()
  }
}
