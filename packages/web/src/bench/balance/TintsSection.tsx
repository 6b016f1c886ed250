import { MOST_TINTS, TINT_GAP, TintSchema, type Tint } from '@dunkelkammer/core'
import { Plus, Trash2 } from 'lucide-react'
import { useState } from 'react'
import { NumberControl } from '../../controls/NumberControl'
import { Numbers, numbersIn } from '../steps/StepNumbers'
import { StepSection } from '../steps/StepSection'
import { changer, useSection } from '../steps/props'

// each tint begins with a hue of its own
const TINT = numbersIn(TintSchema, 'hue', 'strength', 'light').map((n) =>
  n.name === 'hue' ? { ...n, start: undefined } : n,
)

export function TintsSection() {
  const props = useSection('tints')
  const { development, endGesture } = props
  const { stops } = development.steps.tints
  const [at, setAt] = useState(0)
  const chosen = Math.min(at, stops.length - 1)
  const tint = stops[chosen]
  const set = changer(props, 'tints')
  const change = (what: Partial<Tint>, label: string, gesture: string) =>
    set(
      (now) => ({ stops: now.stops.map((s, i) => (i === chosen ? { ...s, ...what } : s)) }),
      label,
      `tint ${chosen} ${gesture}`,
    )
  const add = () => {
    const ends = [0, ...stops.map((s) => s.at), 1]
    let k = 0
    for (let i = 1; i < ends.length - 1; i++) if (ends[i + 1] - ends[i] > ends[k + 1] - ends[k]) k = i
    const place = (ends[k] + ends[k + 1]) / 2
    const next = [...stops, TintSchema.parse({ at: Math.round(place * 100) / 100 })]
    set({ stops: next.sort((a, b) => a.at - b.at) }, 'Tint added')
    setAt(k)
  }
  return (
    <StepSection {...props} title="Tints" steps={['tints']} folded>
      <div className="relative mb-3 h-5" style={{ background: 'linear-gradient(to right, #000, #fff)' }}>
        {stops.map((s, i) => (
          <button
            key={i}
            aria-label={`Tint at ${Math.round(s.at * 100)} %`}
            aria-pressed={i === chosen}
            className={`absolute top-0 h-6 w-3 -translate-x-1/2 border ${i === chosen ? 'border-safe' : 'border-night'}`}
            style={{ left: `${s.at * 100}%`, background: `oklch(0.65 ${0.02 + s.strength * 0.12} ${s.hue})` }}
            onClick={() => setAt(i)}
            onFocus={() => setAt(i)}
          />
        ))}
      </div>
      <NumberControl
        label="Tone"
        unit="%"
        value={Math.round(tint.at * 100)}
        min={chosen > 0 ? Math.ceil((stops[chosen - 1].at + TINT_GAP) * 100) : 0}
        max={chosen < stops.length - 1 ? Math.floor((stops[chosen + 1].at - TINT_GAP) * 100) : 100}
        step={1}
        digits={0}
        onChange={(v) => change({ at: v / 100 }, 'Tint, tone', 'at')}
        onEnd={endGesture}
      />
      <Numbers
        numbers={TINT}
        values={tint}
        onChange={(name, value, label) => change({ [name]: value }, `Tint, ${label.toLowerCase()}`, name)}
        onEnd={endGesture}
      />
      <div className="flex gap-1.5">
        <button className="button flex-1" disabled={stops.length >= MOST_TINTS} onClick={add}>
          <Plus className="h-3.5 w-3.5" aria-hidden /> Add a tint
        </button>
        <button
          className="icon-button"
          aria-label="Remove this tint"
          disabled={stops.length <= 1}
          onClick={() => set({ stops: stops.filter((_, i) => i !== chosen) }, 'Tint removed')}
        >
          <Trash2 className="h-4 w-4" aria-hidden />
        </button>
      </div>
    </StepSection>
  )
}
