import { decode as decodeJpeg } from 'jpeg-js'
import type { Kernels } from '../../kernels/kernels'
import { address, type Raster, type Scratch } from '../../memory'
import { damaged, RawError, unsupported } from '../error'
import type { Segment, Storage } from '../frame'
import { decodeLosslessJpeg } from '../ljpeg'
import { toFloats } from './floats'
import { inflate } from './inflate'
import { undoPrediction } from './predictors'

/** Where a segment comes from and goes to. */
export interface SegmentJob {
  segment: Segment
  storage: Storage
  /** Byte address of the file in the engine's memory. */
  file: number
  /** 16-bit or, for floats, 32-bit samples; one plane for a mosaic, three for linear colours. */
  target: Raster
  /** Address and entries of a 16-bit linearisation table, 0 entries for none. */
  table: number
  tableSize: number
}

/** Gives the samples of one line of the segment, interleaved, at an address of scratch. */
type Line = (y: number) => number

/**
 * Decodes one strip or tile into the sensor's raster.
 * @throws RawError where its data are damaged, too short, or not of the size that they should have
 */
export function decodeSegment(kernels: Kernels, scratch: Scratch, job: SegmentJob): void {
  const { segment, storage, target } = job
  const width = Math.min(segment.width, target.width - segment.x)
  const height = Math.min(segment.height, target.height - segment.y)
  const source = { offset: job.file + segment.offset, length: segment.length }
  const mark = scratch.mark()
  if (storage.compression === 'lossless-jpeg' && storage.samples === 1) {
    const at = address(target, 0, segment.x, segment.y)
    decodeLosslessJpeg(
      kernels,
      scratch,
      source,
      { offset: at, stride: target.stride, width, height },
      segment,
    )
    if (job.tableSize)
      for (let y = 0; y < height; y++)
        kernels.apply_table(at + y * target.stride * 2, width, job.table, job.tableSize)
  } else {
    const line = lines(kernels, scratch, job, source, height)
    for (let y = 0; y < height; y++) {
      const from = line(y)
      if (job.tableSize && !storage.float)
        kernels.apply_table(from, width * storage.samples, job.table, job.tableSize)
      const to = (plane: number) => address(target, plane, segment.x, segment.y + y)
      if (storage.samples === 1) scratch.copy(from, to(0), width * (storage.float ? 4 : 2))
      else if (storage.float) kernels.split_line_f32(from, to(0), to(1), to(2), width)
      else kernels.split_line_u16(from, to(0), to(1), to(2), width)
    }
  }
  scratch.release(mark)
}

function lines(
  kernels: Kernels,
  scratch: Scratch,
  { segment, storage }: SegmentJob,
  source: { offset: number; length: number },
  height: number,
): Line {
  const { bits, samples } = storage
  const count = segment.width * samples
  if (count * 8 + 65536 > scratch.free) throw unsupported('its lines are too long')
  const room = scratch.take(count * 4 + 16)
  const bytes = Math.ceil((count * bits) / 8)
  const swap = (littleEndian: boolean) => (littleEndian ? 0 : 1)
  const held = (offset: number, length: number) => new Uint8Array(scratch.memory.buffer, offset, length)
  const fromFloats = (line: Uint8Array, littleEndian: boolean) => {
    toFloats(line, bits, littleEndian, new Float32Array(scratch.memory.buffer, room, count))
    return room
  }
  switch (storage.compression) {
    case 'none':
      return (y) => {
        const at = source.offset + y * bytes
        if (storage.float) return fromFloats(held(at, bytes), storage.littleEndian)
        kernels.unpack_line(at, room, count, bits, swap(storage.littleEndian))
        return room
      }
    case 'deflate': {
      const all = inflate(held(source.offset, source.length), bytes * height)
      const packed = scratch.take(bytes)
      return (y) => {
        const { line, littleEndian } = undoPrediction(all.subarray(y * bytes, (y + 1) * bytes), storage)
        if (storage.float) return fromFloats(line, littleEndian)
        held(packed, bytes).set(line)
        kernels.unpack_line(packed, room, count, bits, swap(littleEndian))
        return room
      }
    }
    case 'lossless-jpeg': {
      if (count * segment.height * 2 + 65536 > scratch.free)
        throw unsupported('its compressed parts are too large')
      const all = scratch.take(count * segment.height * 2)
      const whole = { offset: all, stride: count, width: count, height }
      decodeLosslessJpeg(kernels, scratch, source, whole, { width: count, height: segment.height })
      return (y) => all + y * count * 2
    }
    case 'jpeg': {
      const picture = baselineJpeg(held(source.offset, source.length).slice(), segment, height)
      return (y) => {
        const row = picture.subarray(y * count, (y + 1) * count)
        new Uint16Array(scratch.memory.buffer, room, count).set(row)
        return room
      }
    }
  }
}

/** A baseline JPEG of three components, 8 bits. */
function baselineJpeg(data: Uint8Array, segment: Segment, height: number): Uint8Array {
  let picture
  try {
    picture = decodeJpeg(data, {
      useTArray: true,
      formatAsRGBA: false,
      tolerantDecoding: false,
      // what claims to be larger than its segment is refused before memory is taken for it
      maxResolutionInMP: Math.ceil((segment.width * segment.height) / 1e6) + 1,
      maxMemoryUsageInMB: 1200,
    })
  } catch (error) {
    if (error instanceof RawError) throw error
    throw damaged('a part of the picture cannot be decompressed')
  }
  if (picture.width !== segment.width || picture.height < height)
    throw damaged('a part of the picture has another size than it should')
  return picture.data
}
