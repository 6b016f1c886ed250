import type { RawErrorCode } from '@dunkelkammer/core'
import type { FormatId } from './identify'

/** What a thread that adapts files is sent, and what it answers. */
export interface AdaptRequest {
  id: number
  bytes: Uint8Array
}
export type AdaptAnswer =
  | { id: number; dng: Uint8Array; format: FormatId; moving?: boolean }
  | { id: number; code?: RawErrorCode; message: string }
