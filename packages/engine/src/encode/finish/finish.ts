import type { Border, Delivery, Layout, Triple } from '@dunkelkammer/core'
import type { PictureOrder } from '../order'
import { colourIn, fromHex, type ToFile } from './colour'
import { overlayOf, type Overlay } from './mark'

/** Lines of a border that are handed on at once. */
const LOT = 64

/** What is put around and over a picture. */
export interface Finish {
  layout: Layout
  border: Border | null
  overlay?: Overlay
  toFile: ToFile
  bits: 8 | 16
}

/**
 * What a delivery puts around and over its picture; undefined where that is nothing.
 * @throws DoesNotFit where a mark's picture cannot be read
 */
export async function finishOf(
  { border, mark }: Delivery,
  layout: Layout,
  pixels: PictureOrder['pixels'],
): Promise<Finish | undefined> {
  if (!border && !mark) return undefined
  const toFile = colourIn(pixels)
  const overlay = mark ? await overlayOf(mark, layout, toFile) : undefined
  return { layout, border, overlay, toFile, bits: pixels.bits }
}

/**
 * Puts the border around a picture and the mark over it, band by band.
 * @param bands interleaved RGB of the picture, whole lines; 16-bit samples in this machine's order
 * @returns the same of the file
 */
export async function* finished(
  bands: AsyncIterable<Uint8Array<ArrayBuffer>>,
  finish: Finish | undefined,
): AsyncGenerator<Uint8Array<ArrayBuffer>, void, undefined> {
  if (!finish) return yield* bands
  const { layout, border, overlay } = finish
  const { width, height, picture, left, top } = layout
  const blank = blankLine(finish)
  const lineBytes = blank(0).length
  let y = 0
  const lines = (count: number) => {
    const out = new Uint8Array(lineBytes * count)
    for (let j = 0; j < count; j++) out.set(blank(y + j), j * lineBytes)
    return out
  }
  const over = (band: Uint8Array<ArrayBuffer>) => {
    if (overlay) lay(overlay, band, width, y, finish.bits)
    y += band.length / lineBytes
    return band
  }
  while (y < top) yield over(lines(Math.min(LOT, top - y)))
  const inner = (picture.width * 3 * finish.bits) / 8
  const from = (left * 3 * finish.bits) / 8
  for await (const band of bands) {
    if (!border) {
      yield over(band)
      continue
    }
    const count = band.length / inner
    const out = lines(count)
    for (let j = 0; j < count; j++) out.set(band.subarray(j * inner, (j + 1) * inner), j * lineBytes + from)
    yield over(out)
  }
  while (y < height) yield over(lines(Math.min(LOT, height - y)))
}

/** The border's pixels of each line; of three kinds. */
function blankLine({ layout, border, toFile, bits }: Finish): (y: number) => Uint8Array {
  const { width, picture, left, top, line } = layout
  const sample = (rgb: Triple, count: number) => {
    const top = 2 ** bits - 1
    const one = rgb.map((v) => Math.round(v * top))
    const out = bits === 16 ? new Uint16Array(count * 3) : new Uint8Array(count * 3)
    for (let i = 0; i < out.length; i++) out[i] = one[i % 3]
    return new Uint8Array(out.buffer)
  }
  const plain = sample(toFile(fromHex(border?.colour ?? '#ffffff')), width)
  if (!border || line === 0) return () => plain
  const bytes = (3 * bits) / 8
  const drawn = (from: number, to: number) => {
    const out = plain.slice()
    const first = Math.max(from, 0)
    out.set(sample(toFile(fromHex(border.lineColour)), Math.min(to, width) - first), first * bytes)
    return out
  }
  // beside the picture, its own pixels come over the middle
  const crossed = drawn(left - line, left + picture.width + line)
  return (y) => (y < top - line || y >= top + picture.height + line ? plain : crossed)
}

/** Blends a mark into the lines that it meets. */
function lay(
  { x, y, width, height, rgba }: Overlay,
  band: Uint8Array,
  across: number,
  from: number,
  bits: 8 | 16,
) {
  const samples = bits === 16 ? new Uint16Array(band.buffer, band.byteOffset, band.length / 2) : band
  const top = 2 ** bits - 1
  const lines = samples.length / (across * 3)
  for (let j = Math.max(0, y - from); j < Math.min(lines, y + height - from); j++)
    for (let i = Math.max(0, -x); i < Math.min(width, across - x); i++) {
      const at = ((from + j - y) * width + i) * 4
      const cover = rgba[at + 3]
      if (cover === 0) continue
      const to = (j * across + x + i) * 3
      for (let c = 0; c < 3; c++)
        samples[to + c] = Math.round(samples[to + c] * (1 - cover) + rgba[at + c] * top * cover)
    }
}
