import { RawError, type ColourTable, type Surveyed } from '@dunkelkammer/core'
import type { Store } from './store'

/** Where tables of colours come from: by the name that settings speak of. */
export type TableSource = (name: string) => Promise<ColourTable>

/** Tables of colours for looks, in the engine's memory once they have been asked for. */
export class Tables {
  private readonly known = new Map<string, Promise<Surveyed>>()
  source?: TableSource

  constructor(private readonly store: Store) {}

  /** @throws RawError with a sentence where there is none of that name */
  get(name: string): Promise<Surveyed> {
    let found = this.known.get(name)
    if (!found) {
      this.known.set(name, (found = this.fetch(name)))
      // another time it may be there
      found.catch(() => this.known.delete(name))
    }
    return found
  }

  private async fetch(name: string): Promise<Surveyed> {
    const table = await this.source?.(name).catch((error: unknown) => {
      throw new RawError(
        'unsupported',
        `The table of colours of this look cannot be had: ${(error as Error).message}`,
      )
    })
    if (!table) throw new RawError('unsupported', 'The table of colours of this look is not at hand.')
    const { size, colours } = table
    const padded = new Float32Array(size ** 3 * 4)
    for (let i = 0; i < size ** 3; i++) padded.set(colours.subarray(3 * i, 3 * i + 3), 4 * i)
    const { offset } = this.store.put(new Uint8Array(padded.buffer))
    return { at: offset, width: size, height: size }
  }
}
