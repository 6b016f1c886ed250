import type { FrameMetadata } from '@dunkelkammer/core'
import type { NewExport, Text } from '@dunkelkammer/contract'

/** What a delivery says of the taking: the camera's words with the photographer's over them, as far as is wanted. */
export function carriedMetadata(
  original: FrameMetadata,
  text: Text,
  carry: NonNullable<NewExport['carry']>,
): FrameMetadata | undefined {
  if (carry === 'nothing') return undefined
  return {
    ...original,
    artist: text.creator || undefined,
    copyright: text.copyright || undefined,
    description: text.caption || undefined,
    ...(carry === 'no position' && { position: undefined }),
  }
}
