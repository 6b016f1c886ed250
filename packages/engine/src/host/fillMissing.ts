import { bulkName, type Development } from '@dunkelkammer/core'
import type { Picture } from './picture'

/**
 * Settings in which every patch that is to be filled, and is not yet, is. What is found is known to this picture alone:
 * nobody keeps it.
 */
export async function fillMissing(picture: Picture, development: Development): Promise<Development> {
  let now = development
  for (const { id, kind, on, filled } of development.steps.patches.patches) {
    if (kind !== 'fill' || !on || filled) continue
    const all = now.steps.patches.patches
    const bytes = await picture.ask(
      'fill',
      now,
      all.find((p) => p.id === id)!,
    )
    if (!bytes) continue
    const patches = all.map((p) => (p.id === id ? { ...p, filled: bulkName(bytes) } : p))
    now = { ...now, steps: { ...now.steps, patches: { patches } } }
  }
  return now
}
