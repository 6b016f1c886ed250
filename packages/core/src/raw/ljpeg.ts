import type { Kernels } from '../kernels/kernels'
import type { Scratch } from '../memory'
import { damaged, unsupported } from './error'

/** Bytes of one decoding table as the kernel lays it out. */
const TABLE_BYTES = 8584

interface ScanHeader {
  components: number
  columns: number
  rows: number
  precision: number
  predictor: number
  /** Table number of each component. */
  selectors: number[]
  /** Address of the 16 counts of each defined table, values behind them. */
  tables: Map<number, number>
  /** Address of the first entropy-coded byte. */
  data: number
}

/** Markers of one lossless JPEG stream (ITU-T T.81, process 14), up to its scan. */
function readHeader(bytes: Uint8Array): ScanHeader {
  const u16 = (at: number) => (bytes[at] << 8) | bytes[at + 1]
  if (u16(0) !== 0xffd8) throw damaged('a part of the picture is no lossless JPEG')
  const tables = new Map<number, number>()
  let frame: { precision: number; rows: number; columns: number; ids: number[] } | undefined
  for (let at = 2; at + 4 <= bytes.length;) {
    if (bytes[at] !== 0xff) throw damaged('a marker is missing in a part of the picture')
    const marker = bytes[at + 1]
    const length = u16(at + 2)
    const body = at + 4
    const end = at + 2 + length
    if (length < 2 || end > bytes.length) throw damaged('a part of the picture is cut off')
    if (marker === 0xc4) {
      for (let p = body; p + 17 <= end;) {
        let count = 0
        for (let k = 1; k <= 16; k++) count += bytes[p + k]
        if (count > 256 || p + 17 + count > end) throw damaged('a code table is broken')
        tables.set(bytes[p] & 15, p + 1)
        p += 17 + count
      }
    } else if (marker === 0xc3) {
      const n = bytes[body + 5]
      if (n < 1 || n > 4 || body + 6 + n * 3 > end) throw damaged('a frame header is broken')
      const ids = Array.from({ length: n }, (_, i) => bytes[body + 6 + i * 3])
      frame = { precision: bytes[body], rows: u16(body + 1), columns: u16(body + 3), ids }
    } else if (marker >= 0xc0 && marker <= 0xcf && marker !== 0xc8 && marker !== 0xcc) {
      throw unsupported('its picture is compressed by another process of JPEG')
    } else if (marker === 0xdd && u16(body) !== 0) {
      throw unsupported('restart intervals in its compressed picture')
    } else if (marker === 0xda) {
      if (!frame) throw damaged('a scan comes before its frame header')
      const n = bytes[body]
      if (n !== frame.ids.length) throw unsupported('components in separate scans')
      const selectors = Array.from({ length: n }, (_, i) => bytes[body + 2 + i * 2] >> 4)
      const predictor = bytes[body + 1 + n * 2]
      const low = bytes[body + 3 + n * 2] & 15
      if (predictor < 1 || predictor > 7 || low !== 0) throw unsupported('its kind of prediction')
      return { ...frame, components: n, predictor, selectors, tables, data: end }
    }
    at = end
  }
  throw damaged('a part of the picture holds no scan')
}

/**
 * Decodes one lossless-JPEG segment. Its own lines may have another length than the segment's: some writers join
 * two rows to one line, or cut a row into components; samples follow each other in reading order all the same.
 * @param source byte address and length of the stream in the engine's memory
 * @param target byte address of the segment's first sample, line stride in samples, and how much of it to keep
 * @param segment its width and height in samples
 * @throws RawError where the stream is damaged or does not have the segment's size
 */
export function decodeLosslessJpeg(
  kernels: Kernels,
  scratch: Scratch,
  source: { offset: number; length: number },
  target: { offset: number; stride: number; width: number; height: number },
  segment: { width: number; height: number },
): void {
  const bytes = new Uint8Array(scratch.memory.buffer, source.offset, source.length)
  const header = readHeader(bytes)
  const wide = header.columns * header.components
  const alike = wide === segment.width && header.rows >= target.height
  if (
    !alike &&
    (wide === 0 ||
      wide * header.rows < segment.width * target.height ||
      wide > segment.width * segment.height)
  )
    throw damaged('a part of the picture has another size than it should')
  if (header.precision < 2 || header.precision > 16)
    throw damaged('a part of the picture has an impossible depth')
  if (wide * 4 + (alike ? 0 : wide * header.rows * 2) + TABLE_BYTES * 5 > scratch.free)
    throw unsupported('its compressed parts are too large')
  const mark = scratch.mark()
  const tables = scratch.take(TABLE_BYTES * header.components)
  header.selectors.forEach((selector, i) => {
    const counts = header.tables.get(selector)
    if (counts === undefined) throw damaged('a code table is missing')
    const at = source.offset + counts
    if (kernels.ljpeg_table(at, at + 16, tables + i * TABLE_BYTES)) throw damaged('a code table is broken')
  })
  const lines = scratch.take(wide * 4)
  const own = alike
    ? target
    : { offset: scratch.take(wide * header.rows * 2), stride: wide, width: wide, height: header.rows }
  const failed = kernels.ljpeg_scan(
    source.offset + header.data,
    source.length - header.data,
    tables,
    header.components,
    header.columns,
    header.rows,
    header.predictor,
    header.precision,
    lines,
    own.offset,
    own.stride,
    own.width,
    own.height,
  )
  if (failed) throw damaged('a part of the picture is cut off')
  if (!alike)
    for (let y = 0; y < target.height; y++)
      scratch.copy(
        own.offset + y * segment.width * 2,
        target.offset + y * target.stride * 2,
        target.width * 2,
      )
  scratch.release(mark)
}
