/** Ids in one condition; SQLite takes no more than some thousands. */
const AT_ONCE = 500

export function inPieces(ids: readonly string[]): string[][] {
  const out: string[][] = []
  for (let i = 0; i < ids.length; i += AT_ONCE) out.push(ids.slice(i, i + AT_ONCE))
  return out
}
