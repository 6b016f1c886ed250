import { z } from 'zod'

const ManySchema = z.object({ ids: z.array(z.string()).min(2), how: z.enum(['value', 'difference']) })
/** Frames that are worked on together, and how a change of one goes to the others. */
export type Many = z.infer<typeof ManySchema>

const key = (shootId: string) => `many ${shootId}`

/** The frames of a shoot that this window works on together: sheet and bench hand them to each other. */
export function manyOf(shootId: string): Many | undefined {
  try {
    return ManySchema.safeParse(JSON.parse(sessionStorage.getItem(key(shootId)) ?? 'null')).data
  } catch {
    return undefined
  }
}

export function workOnMany(shootId: string, many: Many | undefined): void {
  if (many && many.ids.length > 1) sessionStorage.setItem(key(shootId), JSON.stringify(many))
  else sessionStorage.removeItem(key(shootId))
}
