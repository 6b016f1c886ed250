import { atomWithStorage, createJSONStorage } from 'jotai/utils'
import type { z } from 'zod'

const words = createJSONStorage<unknown>(() => localStorage)

/**
 * Something that this browser keeps and all its windows share, or nothing.
 * @param schema what an older or newer page has written may not be that
 */
export const browserAtom = <S extends z.ZodType>(name: string, schema: S) => {
  const read = (value: unknown) => schema.safeParse(value).data
  return atomWithStorage<z.output<S> | undefined>(
    name,
    undefined,
    {
      ...words,
      getItem: (key) => read(words.getItem(key, undefined)),
      subscribe: (key, call) => words.subscribe!(key, (value) => call(read(value)), undefined),
    },
    { getOnInit: true },
  )
}
