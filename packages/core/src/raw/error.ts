/** Why a file cannot be developed; the message is a sentence for the user. */
export type RawErrorCode = 'not-raw' | 'unsupported' | 'damaged' | 'too-large'

export class RawError extends Error {
  constructor(
    readonly code: RawErrorCode,
    message: string,
  ) {
    super(message)
    this.name = 'RawError'
  }
}

export const damaged = (what: string) => new RawError('damaged', `This file is damaged: ${what}.`)
export const unsupported = (what: string) =>
  new RawError('unsupported', `This file cannot be developed yet: ${what}.`)
