import { STAGES, type Choice } from '@dunkelkammer/core'
import { useEffect, useRef } from 'react'

const STAGE_NAMES: Readonly<Record<(typeof STAGES)[number], string>> = {
  'square-up': 'Square up',
  expose: 'Expose',
  balance: 'Balance',
  refine: 'Refine',
  mend: 'Mend',
  shape: 'Shape',
  finish: 'Finish',
}

/** What of a development is taken, by stage and step. */
export function ChoiceTree(props: {
  choices: readonly Choice[]
  chosen: ReadonlySet<string>
  onChange(chosen: ReadonlySet<string>): void
}) {
  const { choices, chosen, onChange } = props
  const set = (keys: readonly string[], on: boolean) => {
    const next = new Set(chosen)
    for (const key of keys) {
      if (on) next.add(key)
      else next.delete(key)
    }
    onChange(next)
  }
  const all = choices.map((c) => c.key)
  const changed = choices.filter((c) => c.changed && !c.ofFrame).map((c) => c.key)
  return (
    <div>
      <div className="mb-2 flex gap-4 text-[12px]">
        <button
          type="button"
          className="text-quiet underline hover:text-bright"
          onClick={() => onChange(new Set(all))}
        >
          All
        </button>
        <button
          type="button"
          className="text-quiet underline hover:text-bright"
          onClick={() => onChange(new Set(changed))}
        >
          Only what was changed
        </button>
        <button
          type="button"
          className="text-quiet underline hover:text-bright"
          onClick={() => onChange(new Set())}
        >
          None
        </button>
      </div>
      <div className="h-[340px] overflow-y-auto border border-line p-3">
        <div className="columns-3 gap-4">
          {STAGES.map((stage) => {
            const own = choices.filter((c) => c.stage === stage)
            if (own.length === 0) return null
            const keys = own.map((c) => c.key)
            const on = keys.filter((key) => chosen.has(key)).length
            return (
              <fieldset key={stage} className="mb-3 break-inside-avoid">
                <legend className="sr-only">{STAGE_NAMES[stage]}</legend>
                <Check
                  label={STAGE_NAMES[stage]}
                  heading
                  checked={on === keys.length}
                  some={on > 0 && on < keys.length}
                  onChange={(wanted) => set(keys, wanted)}
                />
                {own.map((c) => (
                  <Check
                    key={c.key}
                    label={c.name}
                    quiet={!c.changed}
                    title={c.changed ? 'Changed in this frame' : 'As at the start in this frame'}
                    checked={chosen.has(c.key)}
                    onChange={(wanted) => set([c.key], wanted)}
                  />
                ))}
              </fieldset>
            )
          })}
        </div>
      </div>
    </div>
  )
}

/** A box with its name. @param props.some only a part of what it stands for is chosen */
export function Check(props: {
  label: string
  checked: boolean
  some?: boolean
  heading?: boolean
  quiet?: boolean
  title?: string
  onChange(checked: boolean): void
}) {
  const box = useRef<HTMLInputElement>(null)
  useEffect(() => {
    box.current!.indeterminate = props.some === true
  }, [props.some])
  return (
    <label
      title={props.title}
      className={`flex cursor-pointer items-center gap-2 py-0.5 ${props.heading ? 'text-bright' : `pl-5 ${props.quiet ? 'text-quiet' : 'text-text'}`}`}
    >
      <input
        ref={box}
        type="checkbox"
        className="accent-safe"
        checked={props.checked}
        onChange={(e) => props.onChange(e.target.checked)}
      />
      <span className="min-w-0 truncate">{props.label}</span>
    </label>
  )
}
