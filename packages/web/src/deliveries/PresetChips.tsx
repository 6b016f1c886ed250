import type { NewFiles } from '@dunkelkammer/contract'
import { X } from 'lucide-react'
import { usePresets } from '../presets/shelf'

type Presets = NonNullable<NewFiles['presets']>

/** Presets that these files are given, and the versions are not. */
export function PresetChips({ presets, onChange }: { presets: Presets; onChange(presets: Presets): void }) {
  const all = usePresets().data?.presets ?? []
  const nameOf = (id: string) => all.find((p) => p.id === id)?.name ?? id
  return (
    <div className="flex flex-wrap items-center gap-2">
      <select
        className="field !w-60 py-1"
        aria-label="Add a preset for these files"
        value=""
        disabled={all.length === 0}
        onChange={(e) => onChange([...presets, { id: e.target.value, strength: 1 }])}
      >
        <option value="" disabled>
          Add a preset for these files…
        </option>
        {all.map((p) => (
          <option key={p.id} value={p.id}>
            {p.group ? `${p.group}: ${p.name}` : p.name}
          </option>
        ))}
      </select>
      {presets.map(({ id }, i) => (
        <span key={`${id} ${i}`} className="flex items-center border border-line pl-2">
          <span className="max-w-40 truncate">{nameOf(id)}</span>
          <button
            type="button"
            className="icon-button !h-6 !w-6"
            aria-label={`Remove ${nameOf(id)}`}
            onClick={() => onChange(presets.filter((_, k) => k !== i))}
          >
            <X className="h-3.5 w-3.5" aria-hidden />
          </button>
        </span>
      ))}
    </div>
  )
}
