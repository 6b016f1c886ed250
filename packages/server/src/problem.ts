import { RawError, ArenaFull } from '@dunkelkammer/core'
import { Superseded } from '@dunkelkammer/engine'
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

/** Why the server, or a program beside it, does not start: a sentence for whoever started it. */
export class StartProblem extends Error {
  constructor(message: string) {
    super(message)
    this.name = 'StartProblem'
  }
}

export const notFound = (what: string) => new HttpProblem(404, 'not-found', `There is no such ${what}.`)

/** The original of a frame is not where it was left. */
export const originalGone = (inPlace: boolean) =>
  new HttpProblem(
    410,
    'gone',
    inPlace
      ? 'The original is no longer where it was brought in from. Put the card or disk back, or choose the file: it is then kept in the library.'
      : 'The original is missing from the library’s folder. Choose the file, or bring it in again, to put it back.',
  )

/** Something else lies where the original was. */
export const originalChanged = () =>
  new HttpProblem(
    410,
    'changed',
    'The original has changed since it was brought in, so it is not developed. Choose the unchanged file to put it back, or bring in the changed one as a frame of its own.',
  )

export const pictureDamaged = () =>
  new HttpProblem(422, 'damaged', 'The picture inside this file is damaged and cannot be shown.')

const FULL = 'The disk is full. Make room and try again; what was saved before is safe.'
const DENIED = 'The server may not read or write there.'
const READ_ONLY = 'The disk can only be read.'

const DISK: Readonly<Record<string, string>> = {
  ENOSPC: FULL,
  EDQUOT: FULL,
  SQLITE_FULL: FULL,
  SQLITE_IOERR_WRITE: FULL,
  EACCES: DENIED,
  EPERM: DENIED,
  ENOENT: 'There is no such file or folder.',
  ENOTDIR: 'That is not a folder.',
  EISDIR: 'That is a folder.',
  ENAMETOOLONG: 'This name is too long for a file. Shorten it.',
  EROFS: READ_ONLY,
  SQLITE_READONLY: 'The library’s database can only be read.',
  SQLITE_BUSY: 'The library’s database is in use by another program. Try again in a moment.',
  EIO: 'The disk or card cannot be read.',
  ENXIO: 'The disk or card cannot be read.',
  EMFILE: 'Too many files are open. Try again in a moment.',
}
const FULL_CODES = Object.keys(DISK).filter((code) => DISK[code] === FULL)
const STATUS: Readonly<Record<string, number>> = {
  ...Object.fromEntries(FULL_CODES.map((code) => [code, 507])),
  ENAMETOOLONG: 400,
  SQLITE_BUSY: 503,
}

/** What a library that reads requests says of one that it cannot read, by its code for it. */
const REQUEST: Readonly<Record<string, string>> = {
  'entity.empty': 'This request is empty.',
  'entity.too.large': 'This request is too large.',
  'entity.parse.failed': 'This request is not valid JSON.',
  'encoding.unsupported': 'This request is compressed in a way that the server does not read.',
  'charset.unsupported': 'This request is written in characters that the server does not read.',
  'request.aborted': 'This request ended before it was complete.',
  'request.size.invalid': 'This request is not as long as it says.',
}

const KINDS: Readonly<Record<string, string>> = {
  string: 'a text',
  number: 'a number',
  int: 'a whole number',
  boolean: 'true or false',
  array: 'a list',
  object: 'an object',
}

/** What is wrong with a request, as a phrase: "history is missing", "name: at most 300 characters". */
function inWords(issue: ZodError['issues'][number]): string {
  const where = issue.path.map((p) => String(p).slice(0, 60)).join('.') || 'it'
  if (issue.code === 'invalid_type') {
    const missing = issue.input === undefined && / undefined$/.test(issue.message)
    return missing ? `${where} is missing` : `${where} is not ${KINDS[issue.expected] ?? 'what it should be'}`
  }
  if (issue.code === 'unrecognized_keys') return `${where} has a part that is not known`
  if (issue.code === 'invalid_union' || issue.code === 'invalid_value')
    return `${where} is none of the choices`
  const { message } = issue
  return `${where}: ${message.charAt(0).toLowerCase()}${message.slice(1)}`
}

/** The code of an error, or of what caused it: "ENOSPC", "SQLITE_FULL". */
export function codeOf(error: unknown): string | undefined {
  for (let e = error, depth = 0; e && depth < 5; e = (e as Error).cause, depth++) {
    const { code } = e as { code?: unknown }
    if (typeof code === 'string' && code) return code
  }
  return undefined
}

/** Whether something failed because the disk is full. */
export const isDiskFull = (error: unknown): boolean => FULL_CODES.includes(codeOf(error) ?? '')

/** Any failure as a sentence for the user; never a stack trace. */
export function toProblem(error: unknown): HttpProblem {
  if (error instanceof HttpProblem) return error
  if (error instanceof RawError) return new HttpProblem(422, error.code, error.message)
  if (error instanceof Superseded)
    return new HttpProblem(503, 'given-up', 'This was given up, since nobody waited for it any more.')
  if (error instanceof ArenaFull) return new HttpProblem(422, 'too-large', error.message)
  if (error instanceof ZodError)
    return new HttpProblem(400, 'invalid', `This request is not valid (${inWords(error.issues[0])}).`)
  if (error instanceof URIError) return new HttpProblem(400, 'invalid', 'This address is not valid.')
  const { type, status } = (error ?? {}) as { type?: string; status?: unknown }
  const refused = typeof status === 'number' && status >= 400 && status < 500
  const code = codeOf(error)
  if (code === 'ECONNRESET' || code === 'ECONNABORTED')
    return new HttpProblem(400, 'aborted', REQUEST['request.aborted'])
  if (code && DISK[code]) {
    const name = FULL_CODES.includes(code) ? 'enospc' : code.toLowerCase()
    return new HttpProblem(STATUS[code] ?? (refused ? status : 500), name, DISK[code])
  }
  if (refused)
    return new HttpProblem(
      type === 'entity.empty' ? 400 : status,
      status === 413 ? 'too-large' : 'invalid',
      (type && REQUEST[type]) || 'This request is not valid.',
    )
  return new HttpProblem(500, 'failed', 'Something went wrong on the server. What was saved is safe.')
}
