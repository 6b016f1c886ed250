import { fieldsOf, stepById, valueOf, type Field, type StepId } from '../steps'
import { sameSettings } from './departs'
import type { Change } from './parts'

/** One thing that changed, in words: "Exposure", "+0.35", "+0.70 EV". */
export interface Difference {
  what: string
  /** Missing where before and after cannot be said in few words. */
  from?: string
  to?: string
}

/** Digits after the point that a step of a control needs. */
const digitsOf = (step = 1): number => (step >= 1 ? 0 : step >= 0.1 ? 1 : 2)

/** A number of a field as it is shown, without its unit. */
export function shownNumber(field: Field, value: number): string {
  const { scale = 1, step, min = 0, unit } = field
  const shown = value * scale
  const digits = digitsOf(step)
  const sign = shown < 0 ? '\u2212' : shown > 0 && (min < 0 || unit === 'EV') ? '+' : ''
  return sign + Math.abs(shown).toFixed(digits)
}

const lower = (words: string) => words.charAt(0).toLowerCase() + words.slice(1)

/** "Haze, amount": what a field is called where its step is not named; the label alone where that says enough. */
export function fieldName(id: StepId, { label, alone }: Field): string {
  const name = stepById.get(id)!.name!
  const says = label.toLowerCase().includes(name.toLowerCase())
  return alone || says || fieldsOf(id).length === 1 ? label : `${name}, ${lower(label)}`
}

function ofField(id: StepId, field: Field, before: unknown, now: unknown): Difference {
  const what = fieldName(id, field)
  const unit = field.unit ? ` ${field.unit}` : ''
  if (field.kind === 'number' && typeof before === 'number' && typeof now === 'number')
    return { what, from: shownNumber(field, before), to: `${shownNumber(field, now)}${unit}` }
  const word = (v: unknown) => field.words?.[String(v)]
  if (field.kind === 'switch') return { what: `${what}: ${word(now)}` }
  if (word(before) !== undefined && word(now) !== undefined)
    return { what, from: lower(word(before)!), to: lower(word(now)!) }
  return { what }
}

/** A field and its value, where the step is named beside it: "Amount +50 %", "Lens: automatic". */
export function valueSentence(field: Field, value: unknown): string {
  const { label, kind, unit, words } = field
  if (kind === 'number' && typeof value === 'number')
    return `${label} ${shownNumber(field, value)}${unit ? ` ${unit}` : ''}`
  const word = words?.[String(value)]
  return word === undefined ? label : `${label}: ${lower(word)}`
}

const percent = (strength = 1) => `${Math.round(strength * 100)} %`

/** What a change of a part says, thing by thing. */
export function differencesOf({ part, before, now }: Pick<Change, 'part' | 'before' | 'now'>): Difference[] {
  if (part === 'interest') return [{ what: 'Areas of interest' }]
  const { name } = stepById.get(part)!
  const out: Difference[] = []
  if (before.off !== now.off) out.push({ what: `${name} ${now.off ? 'off' : 'on'}` })
  if (before.strength !== now.strength)
    out.push({
      what: `Strength of ${lower(name!)}`,
      from: percent(before.strength),
      to: percent(now.strength),
    })
  for (const field of fieldsOf(part)) {
    const [old, fresh] = [valueOf(before.settings, field), valueOf(now.settings, field)]
    if (!sameSettings(old, fresh)) out.push(ofField(part, field, old, fresh))
  }
  return out
}

/** "Exposure +0.35 to +0.70 EV". */
export const differenceSentence = ({ what, from, to }: Difference): string =>
  from === undefined ? what : `${what} ${from} to ${to}`

/** Most things that a sentence names. */
const NAMED = 2

/**
 * What was done, in one sentence: the command's words, and what changed where that is little.
 * @param label what the command calls it
 */
export function changeSentence(
  label: string,
  changes: readonly Pick<Change, 'part' | 'before' | 'now'>[],
): string {
  const all = changes.flatMap(differencesOf)
  const told = all.filter((d) => d.from !== undefined)
  if (told.length === 0 || told.length < all.length || all.length > NAMED) return label
  const sentence = told.map(differenceSentence).join(', ')
  // a control is called as its field is: the words are there already
  const same = told.some(({ what }) => what.toLowerCase().endsWith(label.toLowerCase()))
  return same ? sentence : `${label}: ${lower(sentence)}`
}
