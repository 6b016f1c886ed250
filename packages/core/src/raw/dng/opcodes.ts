import { damaged, unsupported } from '../error'
import type { Rect } from '../rect'
import type { Ifd } from '../tiff/reader'
import { TAG } from '../tiff/tags'

/** Which places of the sensor an opcode concerns (DNG 1.7, chapter 7): an area, planes, and steps within it. */
export interface OpcodeArea extends Rect {
  plane: number
  planes: number
  rowPitch: number
  columnPitch: number
}

/** An operation that the maker wants done, its numbers as stored. */
export type Opcode =
  | {
      kind: 'warp-rectilinear'
      /** By plane: four radial and two tangential terms. */
      planes: readonly (readonly number[])[]
      centre: readonly [number, number]
    }
  | { kind: 'warp-fisheye'; planes: readonly (readonly number[])[]; centre: readonly [number, number] }
  | { kind: 'fix-vignette-radial'; terms: readonly number[]; centre: readonly [number, number] }
  | { kind: 'fix-bad-pixels-constant'; value: number; phase: number }
  | {
      kind: 'fix-bad-pixels-list'
      phase: number
      /** x, y of single places. */
      points: readonly (readonly [number, number])[]
      areas: readonly Rect[]
    }
  | { kind: 'trim-bounds'; area: Rect }
  | { kind: 'map-table'; area: OpcodeArea; table: readonly number[] }
  | { kind: 'map-polynomial'; area: OpcodeArea; terms: readonly number[] }
  | {
      kind: 'gain-map'
      area: OpcodeArea
      rows: number
      columns: number
      /** Spacing and origin of the map's points in parts of the picture: vertical, horizontal. */
      spacing: readonly [number, number]
      origin: readonly [number, number]
      mapPlanes: number
      gains: readonly number[]
      /** Whether a picture may be shown without it. */
      optional: boolean
    }
  | {
      kind: 'delta-per-row' | 'delta-per-column' | 'scale-per-row' | 'scale-per-column'
      area: OpcodeArea
      values: readonly number[]
    }
  | { kind: 'unknown'; id: number }

/** The three lists: on stored samples, on linear ones, on the demosaiced picture. */
export interface Opcodes {
  stored: readonly Opcode[]
  linear: readonly Opcode[]
  demosaiced: readonly Opcode[]
}

const MAX_OPCODES = 200
const MAX_NUMBERS = 1 << 22

/** Reads big-endian values of one opcode and refuses to leave it. */
class Reader {
  private at = 0
  private readonly view: DataView
  constructor(bytes: Uint8Array) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  }
  private take(bytes: number): number {
    const at = this.at
    if (at + bytes > this.view.byteLength) throw damaged('a list of corrections is cut off')
    this.at += bytes
    return at
  }
  u16 = () => this.view.getUint16(this.take(2))
  u32 = () => this.view.getUint32(this.take(4))
  f32 = () => this.view.getFloat32(this.take(4))
  f64 = () => this.view.getFloat64(this.take(8))
  list<T>(n: number, one: () => T): T[] {
    if (n > MAX_NUMBERS) throw damaged('a list of corrections is too long')
    const out: T[] = []
    for (let i = 0; i < n; i++) out.push(one())
    return out
  }
  rect(): Rect {
    const [top, left, bottom, right] = [this.u32(), this.u32(), this.u32(), this.u32()]
    return { x: left, y: top, width: Math.max(right - left, 0), height: Math.max(bottom - top, 0) }
  }
  area(): OpcodeArea {
    const rect = this.rect()
    const [plane, planes, rowPitch, columnPitch] = [this.u32(), this.u32(), this.u32(), this.u32()]
    if (rowPitch < 1 || columnPitch < 1) throw damaged('a correction has no steps')
    return { ...rect, plane, planes, rowPitch, columnPitch }
  }
}

const PER_LINE = {
  10: 'delta-per-row',
  11: 'delta-per-column',
  12: 'scale-per-row',
  13: 'scale-per-column',
} as const

/** What can be left out only with a wrong picture: known by name, or by number. */
const NAMES: Readonly<Record<number, string>> = {
  7: 'MapTable',
  8: 'MapPolynomial',
  10: 'DeltaPerRow',
  11: 'DeltaPerColumn',
  12: 'ScalePerRow',
  13: 'ScalePerColumn',
  14: 'WarpRectilinear2',
}

/** Operations that are done, or that the user may have done. */
const DONE = [1, 2, 3, 4, 5, 6, 9]

function readOpcode(id: number, optional: boolean, r: Reader): Opcode {
  switch (id) {
    case 1:
    case 2: {
      const n = r.u32()
      if (n > 16) throw damaged('a correction of the lens has too many planes')
      const planes = r.list(n, () => r.list(id === 1 ? 6 : 4, r.f64))
      const kind = id === 1 ? 'warp-rectilinear' : 'warp-fisheye'
      return { kind, planes, centre: [r.f64(), r.f64()] }
    }
    case 3:
      return { kind: 'fix-vignette-radial', terms: r.list(5, r.f64), centre: [r.f64(), r.f64()] }
    case 4:
      return { kind: 'fix-bad-pixels-constant', value: r.u32(), phase: r.u32() }
    case 5: {
      const [phase, points, areas] = [r.u32(), r.u32(), r.u32()]
      return {
        kind: 'fix-bad-pixels-list',
        phase,
        points: r.list(points, () => {
          const row = r.u32()
          return [r.u32(), row] as const
        }),
        areas: r.list(areas, () => r.rect()),
      }
    }
    case 6:
      return { kind: 'trim-bounds', area: r.rect() }
    case 7:
      return { kind: 'map-table', area: r.area(), table: r.list(r.u32(), r.u16) }
    case 8:
      return { kind: 'map-polynomial', area: r.area(), terms: r.list(Math.min(r.u32(), 8) + 1, r.f64) }
    case 9: {
      const area = r.area()
      const [rows, columns] = [r.u32(), r.u32()]
      const spacing = [r.f64(), r.f64()] as const
      const origin = [r.f64(), r.f64()] as const
      const mapPlanes = r.u32()
      const gains = r.list(rows * columns * mapPlanes, r.f32)
      return { kind: 'gain-map', area, rows, columns, spacing, origin, mapPlanes, gains, optional }
    }
    case 10:
    case 11:
    case 12:
    case 13:
      return { kind: PER_LINE[id], area: r.area(), values: r.list(r.u32(), r.f32) }
    default:
      return { kind: 'unknown', id }
  }
}

/**
 * One list; its numbers are big-endian whatever the file's own order is.
 * @throws RawError where it is damaged, or asks for what cannot be done
 */
export function readOpcodeList(bytes: Uint8Array): Opcode[] {
  if (bytes.length === 0) return []
  const head = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (bytes.length < 4) throw damaged('a list of corrections is cut off')
  const count = head.getUint32(0)
  if (count > MAX_OPCODES) throw damaged('a list of corrections is too long')
  const out: Opcode[] = []
  let at = 4
  for (let i = 0; i < count; i++) {
    if (at + 16 > bytes.length) throw damaged('a list of corrections is cut off')
    const length = head.getUint32(at + 12)
    if (at + 16 + length > bytes.length) throw damaged('a list of corrections is cut off')
    const id = head.getUint32(at)
    const optional = (head.getUint32(at + 8) & 1) !== 0
    if (!optional && !DONE.includes(id))
      throw unsupported(`it asks for a correction that is not known (${NAMES[id] ?? `number ${id}`})`)
    out.push(readOpcode(id, optional, new Reader(bytes.subarray(at + 16, at + 16 + length))))
    at += 16 + length
  }
  return out
}

/** The lists of the raw picture's directory. */
export function readOpcodes(ifd: Ifd): Opcodes {
  return {
    stored: readOpcodeList(ifd.bytes(TAG.OpcodeList1)),
    linear: readOpcodeList(ifd.bytes(TAG.OpcodeList2)),
    demosaiced: readOpcodeList(ifd.bytes(TAG.OpcodeList3)),
  }
}
