import { changesBetween, readDevelopment } from '@dunkelkammer/core'
import { z } from 'zod'
import { api, ServerProblem } from '../api/client'

/** What earlier editions kept of a version that was not saved: all of its states, and which of them counts. */
const BackupSchema = z.object({
  revision: z.number(),
  state: z.object({
    history: z.array(z.object({ label: z.string(), development: z.unknown() })).min(1),
    cursor: z.number().int().min(0),
  }),
})
const PREFIX = 'unsaved '

async function send(key: string): Promise<void> {
  const versionId = key.slice(PREFIX.length)
  const { revision, state } = BackupSchema.parse(JSON.parse(localStorage.getItem(key)!))
  const { label, development } = state.history[Math.min(state.cursor, state.history.length - 1)]
  const version = await api.version(versionId)
  // where the version has gone on since, it comes from the beginning, and lies aside if the same was changed
  const on = revision === version.revision
  const base = on ? version.head : null
  const changes = changesBetween(on ? version.development : version.begun, readDevelopment(development))
  if (changes.length > 0)
    await api.appendToLog(versionId, {
      base,
      operations: [
        {
          ...{ kind: 'change', id: crypto.randomUUID(), parent: base, changes },
          ...{ label: `${label}, from an earlier window`, time: new Date().toISOString() },
        },
      ],
    })
}

/** Brings in what earlier editions left unsaved in this browser. */
export async function sendOldBackups(): Promise<void> {
  const keys = Array.from({ length: localStorage.length }, (_, i) => localStorage.key(i)!)
  for (const key of keys.filter((k) => k.startsWith(PREFIX)))
    try {
      await send(key)
      localStorage.removeItem(key)
    } catch (error) {
      // what cannot be read, or is of no version any more, helps nobody; all else is tried again the next time
      const gone = error instanceof ServerProblem ? error.code === 'not-found' : error instanceof SyntaxError
      if (gone) localStorage.removeItem(key)
    }
}
