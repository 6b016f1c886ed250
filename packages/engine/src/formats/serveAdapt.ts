import { RawError } from '@dunkelkammer/core'
import type { Codecs } from './codecs'
import { adapt } from './index'
import type { AdaptAnswer, AdaptRequest } from './messages'

/** The thread's side: adapts one file after the other. */
export async function serveAdapt({ id, bytes }: AdaptRequest, codecs: Codecs): Promise<AdaptAnswer> {
  try {
    return { id, ...(await adapt(bytes, codecs)) }
  } catch (error) {
    if (error instanceof RawError) return { id, code: error.code, message: error.message }
    if (error instanceof RangeError && /alloc|length/i.test(error.message))
      return { id, code: 'too-large', message: 'This picture is too large for the memory that is there.' }
    return { id, code: 'damaged', message: 'This file is damaged: it cannot be read.' }
  }
}
