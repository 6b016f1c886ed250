import { viewOf } from '../bytes'

/** A box of an ISO base media file: its type, and where its body lies. */
export interface Box {
  type: string
  start: number
  end: number
}

export const fourCharacters = (bytes: Uint8Array, at: number): string =>
  String.fromCharCode(...bytes.subarray(at, at + 4))

/** Boxes of a part of an ISO base media file (ISO/IEC 14496-12, 4.2); one that leaves that part ends them. */
export function* boxes(bytes: Uint8Array, from: number, to: number): Generator<Box> {
  const view = viewOf(bytes)
  for (let at = from; at + 8 <= to;) {
    let size = view.getUint32(at)
    let head = 8
    if (size === 1 && at + 16 <= to) {
      size = Number(view.getBigUint64(at + 8))
      head = 16
    } else if (size === 0) size = to - at
    if (size < head || at + size > to) return
    yield { type: fourCharacters(bytes, at + 4), start: at + head, end: at + size }
    at += size
  }
}

/** The first box of a type. */
export function boxOf(bytes: Uint8Array, type: string, from: number, to: number): Box | undefined {
  for (const box of boxes(bytes, from, to)) if (box.type === type) return box
  return undefined
}

/** Reads fields of a box one after the other. @throws RangeError beyond its end */
export class Fields {
  private at: number
  private readonly view: DataView

  constructor(
    private readonly bytes: Uint8Array,
    box: Box,
  ) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, box.end)
    this.at = box.start
  }

  /** A whole number of 0, 1, 2, 4 or 8 bytes. */
  number(size: number): number {
    const { at, view } = this
    this.at += size
    switch (size) {
      case 0:
        return 0
      case 1:
        return view.getUint8(at)
      case 2:
        return view.getUint16(at)
      case 4:
        return view.getUint32(at)
      default:
        return Number(view.getBigUint64(at))
    }
  }

  signed(): number {
    this.at += 4
    return this.view.getInt32(this.at - 4)
  }

  /** Text up to its NUL. */
  text(): string {
    const end = this.bytes.indexOf(0, this.at)
    const text = new TextDecoder('latin1').decode(
      this.bytes.subarray(this.at, end < 0 ? this.view.byteLength : end),
    )
    this.at += text.length + 1
    return text
  }

  /** Where the next field starts. */
  get position(): number {
    return this.at
  }
}
