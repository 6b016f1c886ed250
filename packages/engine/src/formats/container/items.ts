import { concatenated } from '../bytes'
import { boxes, boxOf, Fields, fourCharacters, type Box } from './boxes'

/** What a file in boxes holds (ISO/IEC 14496-12, 8.11): pictures, notes, and how they belong together. */
export interface Items {
  primary: number | undefined
  /** Kind of each item: four characters, and the media type of what has one. */
  kinds: Map<number, { type: string; media: string }>
  /** Properties of each item in the order in which they count. */
  properties: Map<number, Box[]>
  /** Which items one refers to, by the kind of reference. */
  references: { type: string; from: number; to: number[] }[]
  /** An item's data; nothing where they lie elsewhere or beyond the file. */
  data(item: number): Uint8Array | undefined
  /** Where an item's data lie. */
  places: ReadonlyMap<number, Extent[]>
}

const MOST_ITEMS = 10_000

/** Version and flags of a full box. */
const full = (f: Fields) => {
  const word = f.number(4)
  return { version: word >>> 24, flags: word & 0xffffff }
}

function readKinds(bytes: Uint8Array, box: Box | undefined): Items['kinds'] {
  const kinds: Items['kinds'] = new Map()
  if (!box) return kinds
  const head = new Fields(bytes, box)
  head.number(full(head).version === 0 ? 2 : 4)
  for (const entry of boxes(bytes, head.position, box.end)) {
    if (entry.type !== 'infe') continue
    const f = new Fields(bytes, entry)
    const { version } = full(f)
    if (version < 2) continue
    const id = f.number(version === 2 ? 2 : 4)
    f.number(2)
    const type = fourCharacters(bytes, f.position)
    f.number(4)
    f.text()
    kinds.set(id, { type, media: type === 'mime' ? f.text() : '' })
  }
  return kinds
}

function readProperties(bytes: Uint8Array, box: Box | undefined): Items['properties'] {
  const found: Items['properties'] = new Map()
  const container = box && boxOf(bytes, 'ipco', box.start, box.end)
  if (!container) return found
  const all = [...boxes(bytes, container.start, container.end)]
  for (const entry of boxes(bytes, box.start, box.end)) {
    if (entry.type !== 'ipma') continue
    const f = new Fields(bytes, entry)
    const { version, flags } = full(f)
    const count = Math.min(f.number(4), MOST_ITEMS)
    for (let i = 0; i < count; i++) {
      const id = f.number(version < 1 ? 2 : 4)
      const list = found.get(id) ?? []
      const associations = f.number(1)
      for (let k = 0; k < associations; k++) {
        // the highest bit says whether it is essential
        const index = flags & 1 ? f.number(2) & 0x7fff : f.number(1) & 0x7f
        if (all[index - 1]) list.push(all[index - 1])
      }
      found.set(id, list)
    }
  }
  return found
}

function readReferences(bytes: Uint8Array, box: Box | undefined): Items['references'] {
  if (!box) return []
  const head = new Fields(bytes, box)
  const size = full(head).version === 0 ? 2 : 4
  return [...boxes(bytes, head.position, box.end)].map((entry) => {
    const f = new Fields(bytes, entry)
    const from = f.number(size)
    return { type: entry.type, from, to: Array.from({ length: f.number(2) }, () => f.number(size)) }
  })
}

interface Extent {
  from: number
  length: number
  /** Where in the file its two numbers stand, and what the first is counted from. */
  stands: { offset: Field; length: Field; base: number }
}

/** A whole number in a file. */
export interface Field {
  at: number
  size: number
}

/** Where items lie: in the file, or in a box of its own. */
function readPlaces(bytes: Uint8Array, box: Box | undefined, held: Box | undefined): Map<number, Extent[]> {
  const places = new Map<number, Extent[]>()
  if (!box) return places
  const f = new Fields(bytes, box)
  const { version } = full(f)
  const sizes = f.number(2)
  const [offset, length, base, index] = [12, 8, 4, 0].map((shift) => (sizes >> shift) & 15)
  const count = Math.min(f.number(version < 2 ? 2 : 4), MOST_ITEMS)
  for (let i = 0; i < count; i++) {
    const id = f.number(version < 2 ? 2 : 4)
    const method = version > 0 ? f.number(2) & 15 : 0
    f.number(2)
    const from = f.number(base)
    const extents: Extent[] = []
    const parts = f.number(2)
    for (let k = 0; k < parts; k++) {
      if (version > 0) f.number(index)
      const base = method === 1 ? (held?.start ?? Infinity) + from : from
      const stands = {
        base,
        offset: { at: f.position, size: offset },
        length: { at: f.position + offset, size: length },
      }
      extents.push({ stands, from: base + f.number(offset), length: f.number(length) })
    }
    if (method < 2) places.set(id, extents)
  }
  return places
}

/** What a file in boxes holds. A damaged part counts as missing. */
export function readItems(bytes: Uint8Array): Items {
  const none: Items = {
    ...{ primary: undefined, kinds: new Map(), properties: new Map(), references: [] },
    data: () => undefined,
    places: new Map(),
  }
  const meta = boxOf(bytes, 'meta', 0, bytes.length)
  if (!meta) return none
  const inside = (type: string) => boxOf(bytes, type, meta.start + 4, meta.end)
  try {
    const first = inside('pitm')
    const f = first && new Fields(bytes, first)
    const places = readPlaces(bytes, inside('iloc'), inside('idat'))
    return {
      places,
      primary: f && f.number(full(f).version === 0 ? 2 : 4),
      kinds: readKinds(bytes, inside('iinf')),
      properties: readProperties(bytes, inside('iprp')),
      references: readReferences(bytes, inside('iref')),
      data(item) {
        const extents = places.get(item)
        if (!extents?.every((e) => e.from + e.length <= bytes.length)) return undefined
        return concatenated(extents.map((e) => bytes.subarray(e.from, e.from + e.length)))
      },
    }
  } catch (error) {
    if (error instanceof RangeError) return none
    throw error
  }
}
