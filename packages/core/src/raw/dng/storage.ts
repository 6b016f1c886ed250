import { damaged, unsupported } from '../error'
import type { Segment, Storage } from '../frame'
import type { Ifd } from '../tiff/reader'
import { TAG } from '../tiff/tags'

const COMPRESSION: Readonly<Record<number, Storage['compression']>> = {
  1: 'none',
  7: 'lossless-jpeg',
  8: 'deflate',
  34892: 'jpeg',
  32946: 'deflate',
}
const PREDICTOR: Readonly<Record<number, Storage['predictor']>> = {
  1: { kind: 'none', stride: 1 },
  2: { kind: 'horizontal', stride: 1 },
  3: { kind: 'float', stride: 1 },
  34892: { kind: 'horizontal', stride: 2 },
  34893: { kind: 'horizontal', stride: 4 },
  34894: { kind: 'float', stride: 2 },
  34895: { kind: 'float', stride: 4 },
}
const MAX_SEGMENTS = 200000
/** Deflate cannot do better than this. */
const MAX_DEFLATE = 1040
/** A baseline JPEG needs six bits at least for 64 samples. */
const MAX_JPEG = 100

/** How the samples are stored; every combination that is not understood is refused here. */
export function readStorage(ifd: Ifd, samples: 1 | 3): Storage {
  const compression = COMPRESSION[ifd.number(TAG.Compression) ?? 1]
  if (!compression) throw unsupported('its kind of compression')
  const all = ifd.numbers(TAG.BitsPerSample)
  const bits = all[0] ?? 1
  if (all.some((b) => b !== bits)) throw unsupported('its samples have different depths')
  const format = ifd.number(TAG.SampleFormat) ?? 1
  if (format !== 1 && format !== 3) throw unsupported('its kind of samples')
  const float = format === 3
  const predictor = PREDICTOR[ifd.number(TAG.Predictor) ?? 1]
  if (!predictor) throw unsupported('its kind of prediction')
  if (samples === 3 && (ifd.number(TAG.PlanarConfiguration) ?? 1) !== 1)
    throw unsupported('its colours lie in separate parts')
  const known = float
    ? (compression === 'none' || compression === 'deflate') && [16, 24, 32].includes(bits)
    : compression === 'jpeg'
      ? bits === 8
      : compression === 'lossless-jpeg'
        ? bits >= 2 && bits <= 16
        : [8, 10, 12, 14, 16].includes(bits)
  if (!known) throw unsupported(`samples of ${bits} bits${float ? ' with a floating point' : ''}`)
  if (compression === 'deflate') {
    if (predictor.kind === 'float' ? !float : predictor.kind === 'horizontal' && (float || bits % 8 !== 0))
      throw unsupported('its kind of prediction')
  }
  return { compression, bits, float, predictor, samples, littleEndian: ifd.littleEndian }
}

/** Bytes that a segment must at least have to hold its part of the picture. */
function leastBytes(s: Storage, width: number, rows: number): number {
  const count = width * rows * s.samples
  switch (s.compression) {
    case 'none':
      return Math.ceil((width * s.samples * s.bits) / 8) * rows
    case 'lossless-jpeg':
      return count / 8
    case 'deflate':
      return (count * s.bits) / 8 / MAX_DEFLATE
    case 'jpeg':
      return count / 8 / MAX_JPEG
  }
}

/**
 * How a picture is cut into strips or tiles (TIFF 6.0, sections 3 and 15).
 * @throws RawError where their size is impossible
 */
export function readGrid(ifd: Ifd, width: number, height: number) {
  const tiled = ifd.has(TAG.TileOffsets)
  const offsets = ifd.numbers(tiled ? TAG.TileOffsets : TAG.StripOffsets)
  const lengths = ifd.numbers(tiled ? TAG.TileByteCounts : TAG.StripByteCounts)
  const w = tiled ? ifd.required(TAG.TileWidth, 'how wide its tiles are') : width
  const h = tiled
    ? ifd.required(TAG.TileLength, 'how high its tiles are')
    : Math.min(ifd.number(TAG.RowsPerStrip) ?? height, height)
  if (!(w >= 1 && h >= 1 && w <= 65535 && h <= 65535)) throw damaged('its tiles have an impossible size')
  return { tiled, offsets, lengths, w, h }
}

/** Strips or tiles, checked to lie in the file and to be long enough for what they are to hold. */
export function readSegments(
  ifd: Ifd,
  width: number,
  height: number,
  storage: Storage,
  fileSize: number,
): Segment[] {
  const { tiled, offsets, lengths, w, h } = readGrid(ifd, width, height)
  const across = Math.ceil(width / w)
  const down = Math.ceil(height / h)
  if (across * down > MAX_SEGMENTS) throw damaged('it consists of too many parts')
  if (offsets.length < across * down || lengths.length < across * down)
    throw damaged('parts of the picture are missing')
  const out: Segment[] = []
  for (let i = 0; i < across * down; i++) {
    const x = (i % across) * w
    const y = Math.floor(i / across) * h
    if (offsets[i] + lengths[i] > fileSize) throw damaged('it ends before the picture does')
    // a strip at the end may be shorter; a tile always has its whole size
    const rows = tiled ? h : Math.min(h, height - y)
    const needed = tiled && storage.compression === 'none' ? Math.min(h, height - y) : rows
    if (lengths[i] < leastBytes(storage, w, needed)) throw damaged('a part of the picture is cut off')
    out.push({ x, y, width: w, height: rows, offset: offsets[i], length: lengths[i] })
  }
  return out
}
