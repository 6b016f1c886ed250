import {
  bulkNamesIn,
  readDevelopment,
  startDevelopment,
  withPathsNamed,
  type Development,
} from '@dunkelkammer/core'
import { ZodError } from 'zod'
import { sentence, unreadable } from './failure'
import { readInput } from './read'

/** What is wrong with a value, as a sentence. */
export function inWords(issue: ZodError['issues'][number]): string {
  if (issue.code === 'invalid_value') return `One of ${issue.values.map(String).join(', ')}.`
  if (issue.code === 'invalid_type')
    return issue.expected === 'number'
      ? 'This is not a number.'
      : `This is not what it should be: ${issue.expected}.`
  return sentence(issue.message)
}

type BulkData = Map<string, Uint8Array>

/** Settings of a file, and what they speak of by name. @throws Failure 3 */
export async function readSettings(
  file: string | undefined,
): Promise<{ development: Development; bulk: BulkData }> {
  const bulk = new Map<string, Uint8Array>()
  if (!file) return { development: startDevelopment(), bulk }
  const text = new TextDecoder().decode(await readInput(file))
  try {
    const written = withPathsNamed(JSON.parse(text), (name, bytes) => bulk.set(name, bytes))
    const development = readDevelopment(written)
    if ([...bulkNamesIn(development)].some((name) => !bulk.has(name)))
      throw new Error('a path is written as its places, [[x, y], …].')
    return { development, bulk }
  } catch (error) {
    if (error instanceof ZodError) {
      const [issue] = error.issues
      throw unreadable(file, `These are not settings. ${issue.path.join('.') || 'They'}: ${inWords(issue)}`)
    }
    throw unreadable(
      file,
      error instanceof SyntaxError ? 'This is not JSON.' : sentence((error as Error).message),
    )
  }
}
