import { realpath } from 'node:fs/promises'
import { relative, isAbsolute } from 'node:path'
import { HttpProblem } from '../problem'

/**
 * The real path of what the user named, where it lies under one of the allowed roots; links are followed first.
 * @throws HttpProblem where it does not exist or lies elsewhere
 */
export async function withinRoots(
  path: string,
  roots: readonly string[],
  what: 'folder' | 'file' = 'folder',
): Promise<string> {
  if (!isAbsolute(path))
    throw new HttpProblem(400, 'invalid', `Give the whole path of the ${what}, from the root.`)
  let real: string
  try {
    real = await realpath(path)
  } catch {
    throw new HttpProblem(404, 'not-found', `There is no such ${what} on the server.`)
  }
  for (const root of roots) {
    const from = relative(await realpath(root).catch(() => root), real)
    if (from === '' || (!from.startsWith('..') && !isAbsolute(from))) return real
  }
  const named = roots.length > 1 ? `${roots.slice(0, -1).join(', ')} and ${roots.at(-1)}` : roots[0]
  throw new HttpProblem(
    403,
    'outside',
    `The server may not read that ${what}. It may read ${named ?? 'none'}${named ? ' and what lies below' : ''}.`,
  )
}
