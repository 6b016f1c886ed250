import { decodePath, encodePath, simplified, type Place } from '@dunkelkammer/core'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { bulkBytes, dropBulkSoon, keepBulk } from '../../desk/bulk'

/** How far a way on the screen may be off, long edges. */
const TOLERANCE = 2e-4

const NONE: readonly Place[] = []

/** The way of a patch from its middle, as exactly as it is drawn; empty until it is known, and for a spot. */
export function usePath(name: string | undefined): readonly Place[] {
  const { data } = useQuery({
    queryKey: ['path', name],
    queryFn: async () => simplified(decodePath(await bulkBytes(name!)), TOLERANCE),
    enabled: name !== undefined,
    staleTime: Infinity,
    gcTime: 60_000,
    placeholderData: keepPreviousData,
  })
  return (name !== undefined && data) || NONE
}

export const keepPath = (path: readonly Place[]): string =>
  keepBulk(encodePath(path) as Uint8Array<ArrayBuffer>)

/** Keeps the ways of one drag, of which the last one counts. */
export class PathKeeper {
  private readonly names: string[] = []

  keep(path: readonly Place[]): string {
    const name = keepPath(path)
    if (this.names.at(-1) !== name) this.names.push(name)
    return name
  }

  /** Forgets all but the last, or all. */
  end(last = true): void {
    const counts = last ? this.names.at(-1) : undefined
    const rest = this.names.filter((name) => name !== counts)
    rest.forEach(dropBulkSoon)
  }
}
