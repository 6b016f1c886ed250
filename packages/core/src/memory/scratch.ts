import { strideFor, type Raster } from './raster'

/** A worker's own piece of memory, given out in order and taken back all at once after each task. */
export class Scratch {
  private next: number

  constructor(
    readonly memory: WebAssembly.Memory,
    private readonly offset: number,
    private readonly size: number,
  ) {
    this.next = offset
  }

  /** Byte address of `bytes` of uninitialised memory. */
  take(bytes: number): number {
    const at = this.next
    this.next = (at + bytes + 63) & ~63
    if (this.next > this.offset + this.size)
      throw new Error(`a tile wants ${bytes} bytes more than its scratch holds`)
    return at
  }

  /** Bytes that may still be taken. */
  get free(): number {
    return this.offset + this.size - this.next
  }

  raster(width: number, height: number, planes: number): Raster {
    const stride = strideFor(width)
    return { offset: this.take(stride * height * planes * 4), width, height, stride, planes, format: 'f32' }
  }

  /** Copies numbers in as 32-bit floats. */
  floats(values: ArrayLike<number>): number {
    const at = this.take(values.length * 4)
    new Float32Array(this.memory.buffer, at, values.length).set(values)
    return at
  }

  /** Copies numbers in as 32-bit integers. */
  ints(values: ArrayLike<number>): number {
    const at = this.take(values.length * 4)
    new Int32Array(this.memory.buffer, at, values.length).set(values)
    return at
  }

  /** Copies bytes in. */
  bytes(values: Uint8Array): number {
    const at = this.take(values.length)
    new Uint8Array(this.memory.buffer, at, values.length).set(values)
    return at
  }

  /** Moves bytes within the memory, not only within the scratch. */
  copy(from: number, to: number, bytes: number): void {
    new Uint8Array(this.memory.buffer).copyWithin(to, from, from + bytes)
  }

  mark(): number {
    return this.next
  }

  /** Takes back everything since `mark`, or all. */
  release(mark = this.offset): void {
    this.next = mark
  }
}
