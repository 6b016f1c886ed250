import { hasKnownEnding } from '@dunkelkammer/engine'
import { readdirSync, statSync } from 'node:fs'
import { join, parse } from 'node:path'
import { stampOf } from '../library/receive'

/** Pictures of a folder with their stamps, by name. @throws where the folder cannot be read */
export function stampsIn(folder: string): Map<string, string> {
  const stamps = new Map<string, string>()
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    if (!entry.isFile() || entry.name.startsWith('.') || !hasKnownEnding(entry.name)) continue
    const stamp = stampAt(join(folder, entry.name))
    if (stamp) stamps.set(entry.name, stamp)
  }
  return stamps
}

/** The stamp of a file; nothing where it is not there, or not written yet. */
export function stampAt(path: string): string | undefined {
  const stats = statSync(path, { throwIfNoEntry: false })
  return stats && stats.size > 0 ? stampOf(stats) : undefined
}

/** How much of a file's name says that it was made of another one: 0 where nothing does. */
export function likeness(name: string, given: string): number {
  const stem = parse(given).name.toLowerCase()
  const of = parse(name).name.toLowerCase()
  if (!of.startsWith(stem)) return 0
  // "A12" has not been made of "A1"
  return /^[\p{L}\p{N}]/u.test(of.slice(stem.length)) ? 0 : stem.length
}
