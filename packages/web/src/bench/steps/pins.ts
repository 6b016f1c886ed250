import { fieldName, fieldsOf, stepById, STEP_IDS, type Field, type StepId } from '@dunkelkammer/core'
import { z } from 'zod'
import { browserAtom } from '../../desk/browserAtom'

/** A control that can be pinned: a field that is a number, a choice or a switch. */
export interface Pinnable {
  /** "exposure.ev". */
  id: string
  step: StepId
  field: Field
  name: string
}

const controlled = ({ kind, words }: Field) =>
  kind === 'number' || kind === 'switch' || (kind === 'choice' && words !== undefined)

/** Every control of the drawers, in the order of the steps. */
export const PINNABLE: readonly Pinnable[] = STEP_IDS.flatMap((step) =>
  stepById.get(step)!.takes === 'passes'
    ? []
    : fieldsOf(step)
        .filter(controlled)
        .map((field) => ({
          ...{ id: `${step}.${field.path.join('.')}`, step, field },
          name: fieldName(step, field),
        })),
)

const byId = new Map(PINNABLE.map((p) => [p.id, p]))

/** The pinned controls in the user's order; those that an older page had and are no more are left out. */
export const pinnedAtom = browserAtom('own drawer', z.array(z.string().max(80)).max(200))

/** The name of a step's control among those that can be pinned; nothing where it is none of them. */
export function idOfPin(step: StepId, field: string): string | undefined {
  const id = `${step}.${field}`
  return byId.has(id) ? id : undefined
}

/** Pinned controls with one more at the end, or one less. */
export const toggled = (ids: readonly string[], id: string): string[] =>
  ids.includes(id) ? ids.filter((other) => other !== id) : [...ids, id]

export const pinnedOf = (ids: readonly string[] = []): Pinnable[] =>
  [...new Set(ids)].flatMap((id) => byId.get(id) ?? [])

/** Controls whose names hold all of some words. */
export function pinnableWith(words: string, most: number): Pinnable[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean)
  return PINNABLE.filter(({ name }) => wanted.every((word) => name.toLowerCase().includes(word))).slice(
    0,
    most,
  )
}
