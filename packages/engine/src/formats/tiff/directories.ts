import { TAG, type Ifd } from '@dunkelkammer/core'

/** The largest picture of the file: some carry small ones too. */
export function largest(directories: readonly Ifd[]): Ifd | undefined {
  const area = (d: Ifd) => (d.number(TAG.ImageWidth) ?? 0) * (d.number(TAG.ImageLength) ?? 0)
  const [best] = [...directories].sort((a, b) => area(b) - area(a))
  return best
}
