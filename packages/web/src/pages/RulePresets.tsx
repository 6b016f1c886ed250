import type { PresetEntry, RulePreset } from '@dunkelkammer/contract'
import { Plus, X } from 'lucide-react'
import { NumberField } from '../controls/NumberField'
import { groupName, groupsOf, scales } from '../presets/shelf'
import { isoOf } from './iso'

/** The presets of a rule for new frames, each with its strength, and with the ISO at which it holds. */
export function RulePresets(props: {
  rule: number
  chosen: readonly RulePreset[]
  presets: readonly PresetEntry[]
  onChange(chosen: readonly RulePreset[]): void
}) {
  const { rule, chosen, onChange } = props
  // what is found in a picture is not there yet when a frame comes in
  const presets = props.presets.filter((p) => p.portion.automatic.length === 0)
  const change = (i: number, part: Partial<RulePreset>) =>
    onChange(chosen.map((c, k) => (k === i ? { ...c, ...part } : c)))
  return (
    <div className="flex flex-col gap-1 pl-4">
      {chosen.map((c, i) => {
        const preset = props.presets.find((p) => p.id === c.preset)
        const called = `preset ${i + 1} of rule ${rule}`
        return (
          <div key={i} className="flex items-center gap-2">
            <select
              className="field !w-72"
              aria-label={`Name of ${called}`}
              value={c.preset}
              onChange={(e) => change(i, { preset: e.target.value })}
            >
              {!presets.some((p) => p.id === c.preset) && (
                <option value={c.preset}>{preset?.name ?? 'A preset that was deleted'}</option>
              )}
              {groupsOf(presets).map(({ group, presets: own }) => (
                <optgroup key={group} label={groupName(group)}>
                  {own.map((p) => (
                    <option key={p.id} value={p.id}>
                      {p.name}
                    </option>
                  ))}
                </optgroup>
              ))}
            </select>
            <span className="w-24 text-right text-quiet">
              {preset && scales(preset) && (
                <>
                  <NumberField
                    label={`Strength of ${called}`}
                    shown={String(Math.round(c.strength * 100))}
                    whole
                    title="Strength, 0 to 150 %"
                    className="field !w-16 text-right"
                    onChange={(v) => change(i, { strength: Math.min(Math.max(v, 0), 150) / 100 })}
                  />{' '}
                  %
                </>
              )}
            </span>
            <label className="flex items-center gap-2 text-quiet">
              at ISO
              <input
                className="field !w-24 text-right"
                inputMode="numeric"
                aria-label={`ISO of ${called}`}
                placeholder="any"
                title="Between the ISOs of two presets, new frames get what lies between them"
                defaultValue={c.iso ?? ''}
                onBlur={(e) => change(i, { iso: isoOf(e.target.value) })}
              />
            </label>
            <button
              className="icon-button"
              aria-label={`Remove ${called}`}
              onClick={() => onChange(chosen.filter((_, k) => k !== i))}
            >
              <X className="h-4 w-4" aria-hidden />
            </button>
          </div>
        )
      })}
      <button
        className="flex items-center gap-1 self-start py-1 text-quiet hover:text-bright disabled:opacity-50"
        aria-label={`Add a preset to rule ${rule}`}
        disabled={chosen.length >= 12 || presets.length === 0}
        onClick={() => onChange([...chosen, { preset: presets[0].id, strength: 1 }])}
      >
        <Plus className="h-3.5 w-3.5" aria-hidden /> Add a preset
      </button>
    </div>
  )
}
