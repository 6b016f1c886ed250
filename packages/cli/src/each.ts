import type { Failure } from './failure'
import { print } from './output'

/**
 * Prints a JSON array with what is said of each file that can be read; the others are reported.
 * @throws Failure the last one
 */
export async function describeEach(
  files: readonly string[],
  describe: (file: string) => Promise<Record<string, unknown>>,
): Promise<void> {
  const found: Record<string, unknown>[] = []
  let failed: Failure | undefined
  for (const file of files)
    try {
      found.push(await describe(file))
    } catch (error) {
      if (failed) console.error(failed.message)
      failed = error as Failure
    }
  if (found.length > 0) print(JSON.stringify(found, null, 2))
  if (failed) throw failed
}
