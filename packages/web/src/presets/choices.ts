import type { Choice } from '@dunkelkammer/core'
import { z } from 'zod'

const KEY = 'settings copied'
const StoredSchema = z.record(z.string(), z.boolean()).catch({})

/** What the user has chosen otherwise than is offered, by the choices' keys. */
type Otherwise = Readonly<Record<string, boolean>>

function stored(): Otherwise {
  try {
    return StoredSchema.parse(JSON.parse(localStorage.getItem(KEY) ?? '{}'))
  } catch {
    return {}
  }
}

/** The choices for copying: what belongs to one frame is left out, unless it was chosen the last time. */
export function copiedLast(choices: readonly Choice[]): ReadonlySet<string> {
  const otherwise = stored()
  return new Set(choices.filter((c) => otherwise[c.key] ?? !c.ofFrame).map((c) => c.key))
}

/** Remembers what was chosen for copying. Areas are other ones in each frame. */
export function rememberCopied(choices: readonly Choice[], chosen: ReadonlySet<string>): void {
  const otherwise = { ...stored() }
  for (const { key, area, ofFrame } of choices) {
    if (area) continue
    if (chosen.has(key) === !ofFrame) delete otherwise[key]
    else otherwise[key] = chosen.has(key)
  }
  localStorage.setItem(KEY, JSON.stringify(otherwise))
}
