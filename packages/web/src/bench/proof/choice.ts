import { INTENTS } from '@dunkelkammer/core'
import { atom } from 'jotai'
import { z } from 'zod'

const ChoiceSchema = z.object({
  /** By its name in the library. */
  profile: z.string().default(''),
  intent: z.enum(INTENTS).default('relative'),
  blackPoint: z.boolean().default(true),
  /** White and black of the paper as they are, not as the display's own. */
  paperWhite: z.boolean().default(false),
  /** Stripes over what the device has no colour for. */
  stripes: z.boolean().default(false),
})
export type ProofChoice = z.infer<typeof ChoiceSchema>

const KEY = 'proof'
function stored(): ProofChoice {
  try {
    return ChoiceSchema.parse(JSON.parse(localStorage.getItem(KEY) ?? '{}'))
  } catch {
    return ChoiceSchema.parse({})
  }
}

const chosenAtom = atom<ProofChoice | undefined>(undefined)
/** Which device is proofed, and how; this browser remembers it. */
export const proofChoiceAtom = atom(
  (get) => get(chosenAtom) ?? stored(),
  (get, set, part: Partial<ProofChoice>) => {
    const next = { ...get(proofChoiceAtom), ...part }
    set(chosenAtom, next)
    localStorage.setItem(KEY, JSON.stringify(next))
  },
)
/** Whether the picture is shown as the device would. */
export const proofingAtom = atom(false)
