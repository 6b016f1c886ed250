import { RawError, ArenaFull } from '@dunkelkammer/core'
import { ZodError } from 'zod'

/** An answer that is not the one asked for: a code for programs and a sentence for people. */
export class HttpProblem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
  ) {
    super(message)
    this.name = 'HttpProblem'
  }
}

export const notFound = (what: string) => new HttpProblem(404, 'not-found', `There is no such ${what}.`)

/** The original of a frame is not where it was left. */
export const originalGone = () =>
  new HttpProblem(
    410,
    'gone',
    'The original is no longer where it was brought in from. Put the card or disk back, or bring it in again as a copy.',
  )

const DISK: Readonly<Record<string, string>> = {
  ENOSPC: 'The disk is full. Make room and try again; nothing was lost.',
  EACCES: 'The server may not read or write there.',
  EPERM: 'The server may not read or write there.',
  ENOENT: 'There is no such file or folder.',
  ENOTDIR: 'That is not a folder.',
  EROFS: 'The disk can only be read.',
  EIO: 'The disk or card cannot be read.',
  EMFILE: 'Too many files are open. Try again in a moment.',
}

/** Any failure as a sentence for the user; never a stack trace. */
export function toProblem(error: unknown): HttpProblem {
  if (error instanceof HttpProblem) return error
  if (error instanceof RawError) return new HttpProblem(422, error.code, error.message)
  if (error instanceof ArenaFull) return new HttpProblem(422, 'too-large', error.message)
  if (error instanceof ZodError) {
    const issue = error.issues[0]
    const where = issue.path.length ? `${issue.path.join('.')}: ` : ''
    return new HttpProblem(400, 'invalid', `This request is not valid (${where}${issue.message}).`)
  }
  const { code, type } = (error ?? {}) as { code?: string; type?: string }
  if (type === 'entity.too.large') return new HttpProblem(413, 'too-large', 'This request is too large.')
  if (type === 'entity.parse.failed')
    return new HttpProblem(400, 'invalid', 'This request is not valid JSON.')
  if (code && DISK[code])
    return new HttpProblem(code === 'ENOSPC' ? 507 : 500, code.toLowerCase(), DISK[code])
  return new HttpProblem(500, 'failed', 'Something went wrong on the server. What was saved is safe.')
}
