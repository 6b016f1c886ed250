import { PortionSchema, type Portion } from '@dunkelkammer/core'
import { atomWithStorage, createJSONStorage } from 'jotai/utils'
import { z } from 'zod'

/** Settings that were copied, and the frame that they come from. */
export interface CopiedSettings {
  portion: Portion
  fileName: string
}

const CopiedSchema = z.object({ portion: PortionSchema, fileName: z.string() })
const words = createJSONStorage<unknown>(() => localStorage)

/** What was copied last, in this window or another, to be pasted on the bench or the sheet. */
export const copiedSettingsAtom = atomWithStorage<CopiedSettings | undefined>(
  'copied settings',
  undefined,
  {
    ...words,
    // what an older or newer page has written may not be settings here
    getItem: (key) => CopiedSchema.safeParse(words.getItem(key, undefined)).data,
    subscribe: (key, call) =>
      words.subscribe!(key, (value) => call(CopiedSchema.safeParse(value).data), undefined),
  },
  { getOnInit: true },
)
