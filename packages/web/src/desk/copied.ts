import { AreaSchema, type Area } from '@dunkelkammer/core'
import { atomWithStorage, createJSONStorage } from 'jotai/utils'
import { z } from 'zod'

/** An area that was copied, with a mask of its own, and the frame that it comes from. */
export interface CopiedArea {
  area: Area
  frameId: string
}

const CopiedSchema = z.object({ area: AreaSchema, frameId: z.string() })
const words = createJSONStorage<unknown>(() => localStorage)

/** What was copied last, in this window or another, to be pasted on the bench or the sheet. */
export const copiedAreaAtom = atomWithStorage<CopiedArea | undefined>(
  'copied area',
  undefined,
  {
    ...words,
    // what an older or newer page has written may not be an area here
    getItem: (key) => CopiedSchema.safeParse(words.getItem(key, undefined)).data,
    subscribe: (key, call) =>
      words.subscribe!(key, (value) => call(CopiedSchema.safeParse(value).data), undefined),
  },
  { getOnInit: true },
)
