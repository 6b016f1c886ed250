import { LOOKS, type LookSettings } from '@dunkelkammer/core'
import type { LookEntry, NewFrameRule, NewFrames, PresetEntry } from '@dunkelkammer/contract'
import { ArrowUp, Plus, Trash2 } from 'lucide-react'
import { Fragment, useState } from 'react'
import { api, sentence } from '../api/client'
import { queryClient } from '../api/queries'
import { ErrorNotice } from '../shell/Notice'
import { isoOf } from './iso'
import { RulePresets } from './RulePresets'

const NONE: LookSettings = { kind: 'none', id: '', name: 'No look' }

/** The rules by which new frames begin. */
export function NewFrameRules(props: {
  start: readonly NewFrameRule[]
  lens: NewFrames['lens']
  looks: readonly LookEntry[]
  presets: readonly PresetEntry[]
}) {
  const { start, lens, looks } = props
  const [rules, setRules] = useState<readonly NewFrameRule[]>(start)
  const [problem, setProblem] = useState<string>()
  const choices: LookSettings[] = [
    NONE,
    ...LOOKS.map((l): LookSettings => ({ kind: 'own', id: l.id, name: l.name })),
    ...looks.map((l): LookSettings => ({ kind: l.kind, id: l.id, name: l.name, recipe: l.recipe })),
  ]
  const put = (next: readonly NewFrameRule[]) => {
    setRules(next)
    api.setNewFrames({ lens, rules: [...next] }).then(
      (saved) => {
        setProblem(undefined)
        queryClient.setQueryData(['new-frames'], saved)
      },
      (error: unknown) => setProblem(sentence(error)),
    )
  }
  const change = (i: number, part: Partial<NewFrameRule>) =>
    put(rules.map((r, k) => (k === i ? { ...r, ...part } : r)))
  return (
    <>
      {problem && <ErrorNotice>{problem}</ErrorNotice>}
      {rules.length > 0 && (
        <table className="mb-4 w-full max-w-4xl" aria-label="Rules for new frames">
          <thead className="text-left text-quiet">
            <tr>
              <th className="py-2 font-normal">Camera</th>
              <th className="font-normal">Lens</th>
              <th className="font-normal">ISO from</th>
              <th className="font-normal">ISO to</th>
              <th className="font-normal">Look</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {rules.map((r, i) => (
              <Fragment key={i}>
                <tr className="border-t border-line">
                  {(['camera', 'lens'] as const).map((key) => (
                    <td key={key} className="py-2 pr-3">
                      <input
                        className="field"
                        aria-label={`${key === 'camera' ? 'Camera' : 'Lens'} of rule ${i + 1}`}
                        placeholder="any"
                        maxLength={120}
                        defaultValue={r[key] ?? ''}
                        onBlur={(e) => change(i, { [key]: e.target.value.trim() || undefined })}
                      />
                    </td>
                  ))}
                  {(['isoFrom', 'isoTo'] as const).map((key) => (
                    <td key={key} className="w-28 pr-3">
                      <input
                        className="field text-right"
                        inputMode="numeric"
                        aria-label={`${key === 'isoFrom' ? 'ISO from' : 'ISO to'} of rule ${i + 1}`}
                        placeholder="any"
                        defaultValue={r[key] ?? ''}
                        onBlur={(e) => change(i, { [key]: isoOf(e.target.value) })}
                      />
                    </td>
                  ))}
                  <td className="pr-3">
                    <select
                      className="field"
                      aria-label={`Look of rule ${i + 1}`}
                      value={`${r.look.kind} ${r.look.id}`}
                      onChange={(e) =>
                        change(i, {
                          look: choices.find((c) => `${c.kind} ${c.id}` === e.target.value) ?? r.look,
                        })
                      }
                    >
                      {!choices.some((c) => c.kind === r.look.kind && c.id === r.look.id) && (
                        <option value={`${r.look.kind} ${r.look.id}`}>{r.look.name}</option>
                      )}
                      {choices.map((c) => (
                        <option key={`${c.kind} ${c.id}`} value={`${c.kind} ${c.id}`}>
                          {c.name}
                        </option>
                      ))}
                    </select>
                  </td>
                  <td className="w-20 whitespace-nowrap">
                    <button
                      className="icon-button"
                      aria-label={`Move rule ${i + 1} up`}
                      disabled={i === 0}
                      onClick={() => put([...rules.slice(0, i - 1), r, rules[i - 1], ...rules.slice(i + 1)])}
                    >
                      <ArrowUp className="h-4 w-4" aria-hidden />
                    </button>
                    <button
                      className="icon-button"
                      aria-label={`Remove rule ${i + 1}`}
                      onClick={() => put(rules.filter((_, k) => k !== i))}
                    >
                      <Trash2 className="h-4 w-4" aria-hidden />
                    </button>
                  </td>
                </tr>
                <tr>
                  <td colSpan={6} className="pb-3">
                    <RulePresets
                      rule={i + 1}
                      chosen={r.presets}
                      presets={props.presets}
                      onChange={(presets) => change(i, { presets: [...presets] })}
                    />
                  </td>
                </tr>
              </Fragment>
            ))}
          </tbody>
        </table>
      )}
      <button
        className="button"
        disabled={rules.length >= 30}
        onClick={() => put([...rules, { look: NONE, presets: [] }])}
      >
        <Plus className="h-4 w-4" aria-hidden /> Add a rule
      </button>
    </>
  )
}
