import type { LogPlace } from '@dunkelkammer/core'
import { ServerProblem } from '../api/client'
import { append } from './bulk'
import { sendOldBackups } from './oldBackups'
import { forgetUnsaved, leftUnsaved, type Unsaved } from './unsaved'

/** Changes that lie beside where their version stands, since another window had changed the same. */
export interface Aside {
  /** The last of them. */
  last: string
  /** Where the version stood then. */
  head: LogPlace
}

const told = new Map<string, Aside>()
/** What recovery found to lie aside of a version; said once. */
export function takeAside(versionId: string): Aside | undefined {
  const found = told.get(versionId)
  told.delete(versionId)
  return found
}

async function send({ desk, version, batches }: Unsaved): Promise<void> {
  for (const batch of batches) {
    if (batch.operations.length === 0) continue
    const done = await append(version, batch)
    if (done.outcome === 'aside' && done.last) told.set(version, { last: done.last, head: done.version.head })
  }
  await forgetUnsaved({ desk })
}

async function recoverAll(): Promise<void> {
  for (const left of await leftUnsaved())
    try {
      await send(left)
    } catch (error) {
      // a version that is no more needs nothing; all else is tried again the next time
      if (error instanceof ServerProblem && error.code === 'not-found') await forgetUnsaved(left)
    }
  await sendOldBackups()
}

let running: Promise<void> | undefined
/** Saves what windows that were closed, killed or cut off have left; before a version is read, so that it shows. */
export function recover(): Promise<void> {
  running ??= recoverAll()
    .catch(() => undefined)
    .finally(() => {
      running = undefined
    })
  return running
}
