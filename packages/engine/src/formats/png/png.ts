import { damaged } from '@dunkelkammer/core'
import { decode } from 'fast-png'
import { checkSize, type DisplayPicture } from '../display'
import { aboutOf } from '../exif'
import { viewOf } from '../bytes'
import { deinterlaced } from './adam7'
import { unpackBits } from './bits'
import { chunk, chunks } from './chunks'
import { profileOf } from './colour'

type Samples = Uint8Array | Uint16Array

/** Palette entries to RGB, with their opacity where any is said. */
function unpalette(
  indices: ArrayLike<number>,
  palette: Uint8Array,
  opacity: Uint8Array | undefined,
): Uint8Array {
  const channels = opacity ? 4 : 3
  const out = new Uint8Array(indices.length * channels)
  for (let i = 0; i < indices.length; i++) {
    const entry = indices[i]
    for (let c = 0; c < 3; c++) out[i * channels + c] = palette[entry * 3 + c] ?? 0
    if (opacity) out[i * channels + 3] = opacity[entry] ?? 255
  }
  return out
}

/** Adds opacity to samples: none where all channels have the value that stands for what is transparent. */
function withOpacity(data: Samples, channels: number, transparent: readonly number[], top: number): Samples {
  const pixels = data.length / channels
  const size = pixels * (channels + 1)
  const out = data instanceof Uint16Array ? new Uint16Array(size) : new Uint8Array(size)
  for (let i = 0; i < pixels; i++) {
    let clear = true
    for (let c = 0; c < channels; c++) {
      const v = data[i * channels + c]
      out[i * (channels + 1) + c] = v
      clear &&= v === transparent[c]
    }
    out[i * (channels + 1) + channels] = clear ? 0 : top
  }
  return out
}

/** Samples as they are stored, a number each. */
function samplesOf(
  bytes: Uint8Array,
  width: number,
  height: number,
  depth: number,
  interlaced: boolean,
): Samples {
  if (interlaced && depth < 8) return deinterlaced(chunks(bytes, 'IDAT'), width, height, depth)
  let png
  try {
    png = decode(bytes)
  } catch {
    throw damaged('the picture cannot be decompressed')
  }
  const data = png.data as Samples
  return depth < 8 ? unpackBits(data as Uint8Array, width, height, depth) : data
}

/** Channels by the kind of colours (PNG, 3rd edition, 11.2.1). */
const CHANNELS: Readonly<Record<number, number>> = { 0: 1, 2: 3, 3: 1, 4: 2, 6: 4 }

const METRES_PER_INCH = 0.0254

/** Pixels per inch; nothing where the chunk tells no more than their shape (PNG, 3rd edition, 11.3.4.3). */
function densityOf(bytes: Uint8Array): number | undefined {
  const size = chunk(bytes, 'pHYs')
  return size && size.length >= 9 && size[8] === 1 ? viewOf(size).getUint32(0) * METRES_PER_INCH : undefined
}

/** Decodes a PNG of any kind. @throws RawError where it is damaged, or coded for a display of high range */
export function decodePngPicture(bytes: Uint8Array): DisplayPicture {
  const head = chunk(bytes, 'IHDR')
  if (!head || head.length < 13) throw damaged('it has no header')
  const [width, height] = [viewOf(head).getUint32(0), viewOf(head).getUint32(4)]
  const [depth, kind, interlaced] = [head[8], head[9], head[12] === 1]
  checkSize(width, height)
  if (!chunk(bytes, 'IEND')) throw damaged('it ends before the picture does')
  const profile = profileOf(bytes)
  let data = samplesOf(bytes, width, height, depth, interlaced)
  let channels = CHANNELS[kind]
  const said = chunk(bytes, 'tRNS')
  if (kind === 3) {
    const palette = chunk(bytes, 'PLTE')
    if (!palette) throw damaged('its palette is missing')
    data = unpalette(data, palette, said)
    channels = said ? 4 : 3
  } else {
    const top = 2 ** depth - 1
    if (said && said.length >= channels * 2) {
      const transparent = Array.from({ length: channels }, (_, c) => viewOf(said).getUint16(c * 2) & top)
      data = withOpacity(data, channels, transparent, top)
      channels++
    }
    if (depth < 8) data = Uint8Array.from(data, (v) => Math.round((v * 255) / top))
  }
  return { ...{ width, height, channels, data, profile }, ...aboutOf(chunk(bytes, 'eXIf'), densityOf(bytes)) }
}
