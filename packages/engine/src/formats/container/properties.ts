import { srgbProfile } from '@dunkelkammer/core'
import { Fields, fourCharacters, type Box } from './boxes'
import { codedProfile } from './coded'
import { readItems, type Items } from './items'
import { placingOf, type Placing, type Transform } from './placing'
import { profileFrom, type PictureProfile } from '../pictureProfile'

/** What is said of the main picture of a file in boxes (ISO/IEC 23008-12). */
export interface ImageProperties {
  /** Size as stored. */
  width: number
  height: number
  /** Its turn and crop; nothing where the file says none. */
  placing?: Placing
  profile: PictureProfile
  /** Bits of a sample. */
  bits: number
  exif?: Uint8Array
}

/** The item that is the picture: what the file calls so, else the first that has a size. */
function pictureOf({ primary, properties }: Items): number | undefined {
  const sized = (id: number) => properties.get(id)?.some((p) => p.type === 'ispe')
  return primary !== undefined && sized(primary) ? primary : [...properties.keys()].find(sized)
}

function transformOf(bytes: Uint8Array, box: Box): Transform | undefined {
  const f = new Fields(bytes, box)
  switch (box.type) {
    case 'irot':
      return { kind: 'turn', quarters: f.number(1) & 3 }
    case 'imir':
      return { kind: 'mirror', upsideDown: (f.number(1) & 1) === 0 }
    case 'clap': {
      const quotient = () => f.signed() / f.signed()
      const [width, height, dx, dy] = [quotient(), quotient(), quotient(), quotient()]
      return [width, height, dx, dy].every(isFinite) ? { kind: 'crop', width, height, dx, dy } : undefined
    }
    default:
      return undefined
  }
}

function profileOf(bytes: Uint8Array, boxes: readonly Box[]): PictureProfile | undefined {
  const colours = boxes.filter((b) => b.type === 'colr' && b.end - b.start >= 8)
  const kind = (b: Box) => fourCharacters(bytes, b.start)
  const icc = colours.find((b) => kind(b) === 'prof' || kind(b) === 'rICC')
  if (icc) return profileFrom(bytes.subarray(icc.start + 4, icc.end))
  const coded = colours.find((b) => kind(b) === 'nclx')
  if (!coded) return undefined
  const f = new Fields(bytes, coded)
  f.number(4)
  return codedProfile(f.number(2), f.number(2))
}

/** Bits by the picture's own property, or by its coder's. */
function bitsOf(bytes: Uint8Array, boxes: readonly Box[]): number {
  const of = (type: string, length: number) => boxes.find((b) => b.type === type && b.end - b.start >= length)
  const pixels = of('pixi', 6)
  if (pixels) return bytes[pixels.start + 5]
  const hevc = of('hvcC', 18)
  if (hevc) return 8 + (bytes[hevc.start + 17] & 7)
  const av1 = of('av1C', 3)
  if (av1) return bytes[av1.start + 2] & 0x40 ? (bytes[av1.start + 2] & 0x20 ? 12 : 10) : 8
  return 8
}

/** Data of notes of a kind that speak of the picture. */
function notesOf(items: Items, picture: number, type: string, media = ''): Uint8Array | undefined {
  const those = [...items.kinds].filter(([, k]) => k.type === type && k.media === media).map(([id]) => id)
  const describes = (id: number) =>
    items.references.some((r) => r.type === 'cdsc' && r.from === id && r.to.includes(picture))
  const id = those.find(describes) ?? (those.length === 1 ? those[0] : undefined)
  return id === undefined ? undefined : items.data(id)
}

/** Exif after the count of bytes that lie before it. */
function exifOf(items: Items, picture: number): Uint8Array | undefined {
  const notes = notesOf(items, picture, 'Exif')
  if (!notes || notes.length < 14) return undefined
  const before = new DataView(notes.buffer, notes.byteOffset).getUint32(0)
  return before < notes.length - 12 ? notes.subarray(4 + before) : undefined
}

/**
 * What is said of the main picture; its size is 0 where it has none.
 * @throws RawError where its colours are of a kind that is not read
 */
export function imageProperties(bytes: Uint8Array): ImageProperties {
  const items = readItems(bytes)
  const picture = pictureOf(items)
  const own = picture === undefined ? [] : items.properties.get(picture)!
  // a picture put together from tiles may leave it to them to say what colours are
  const tiles = items.references.find((r) => r.type === 'dimg' && r.from === picture)?.to ?? []
  const tile = items.properties.get(tiles[0]) ?? []
  const size = own.find((b) => b.type === 'ispe' && b.end - b.start >= 12)
  const f = size && new Fields(bytes, { ...size, start: size.start + 4 })
  const [width, height] = f ? [f.number(4), f.number(4)] : [0, 0]
  const transforms = own.map((b) => transformOf(bytes, b)).filter((t) => t !== undefined)
  return {
    ...{ width, height },
    placing: transforms.length ? placingOf(width, height, transforms) : undefined,
    profile: profileOf(bytes, own) ?? profileOf(bytes, tile) ?? srgbProfile(),
    bits: bitsOf(bytes, [...own, ...tile]),
    exif: picture === undefined ? undefined : exifOf(items, picture),
  }
}

/** The packet of XMP that speaks of the main picture. */
export function xmpOf(bytes: Uint8Array): Uint8Array | undefined {
  const items = readItems(bytes)
  const picture = pictureOf(items)
  return picture === undefined ? undefined : notesOf(items, picture, 'mime', 'application/rdf+xml')
}
