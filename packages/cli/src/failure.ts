/** Ends the program with one line on standard error. */
export class Failure extends Error {
  constructor(
    readonly exitCode: 1 | 2 | 3 | 4 | 5,
    message: string,
  ) {
    super(message)
    this.name = 'Failure'
  }
}

export const usage = (message: string) => new Failure(2, message)
export const unreadable = (file: string, reason: string) => new Failure(3, `${file}: ${reason}`)
export const unwritable = (file: string, reason: string) => new Failure(4, `${file}: ${reason}`)
/** Where what was asked for is not in the picture. */
export const notFound = (file: string, reason: string) => new Failure(5, `${file}: ${reason}`)

const REASONS: Readonly<Record<string, string>> = {
  ENOENT: 'There is no such file or folder.',
  EACCES: 'Access is not allowed.',
  EPERM: 'Access is not allowed.',
  EISDIR: 'That is a folder.',
  ENOTDIR: 'A part of the path is not a folder.',
  ENOSPC: 'The disk is full.',
  EDQUOT: 'The disk is full.',
  ENAMETOOLONG: 'This name is too long for a file.',
  EROFS: 'The disk can only be read.',
}

/** A system error as a few words. */
export function reasonOf(error: unknown): string {
  const { code, message } = error as NodeJS.ErrnoException
  return (code && REASONS[code]) || sentence(message)
}

/** A message as a sentence: a capital first, a full stop last, one line. */
export function sentence(message: string): string {
  const line = message.replace(/\s+/g, ' ').trim()
  const whole = /[.?!…]$/.test(line) ? line : `${line}.`
  return whole.charAt(0).toUpperCase() + whole.slice(1)
}
