/** Ends the program with one line on standard error. */
export class Failure extends Error {
  constructor(
    readonly exitCode: 1 | 2 | 3 | 4,
    message: string,
  ) {
    super(message)
    this.name = 'Failure'
  }
}

export const usage = (message: string) => new Failure(2, message)
export const unreadable = (file: string, reason: string) => new Failure(3, `${file}: ${reason}`)
export const unwritable = (file: string, reason: string) => new Failure(4, `${file}: ${reason}`)

const REASONS: Readonly<Record<string, string>> = {
  ENOENT: 'there is no such file or folder',
  EACCES: 'access is not allowed',
  EPERM: 'access is not allowed',
  EISDIR: 'that is a folder',
  ENOTDIR: 'a part of the path is not a folder',
  ENOSPC: 'the disk is full',
  EROFS: 'the disk can only be read',
}

/** A system error as a few words. */
export function reasonOf(error: unknown): string {
  const { code, message } = error as NodeJS.ErrnoException
  return (code && REASONS[code]) || message
}
