import { address, type Raster, type Scratch } from '../memory'

/** How a mask is shown over the picture. */
export const MASK_LOOKS = ['hatching', 'rest', 'outline', 'grey'] as const
export type MaskLook = (typeof MASK_LOOKS)[number]

/** Pixels from one line of the hatching to the next, across them. */
const PITCH = 9
/** Half the width of a line where the mask lets everything in, and of its dark border. */
const HALF = 1.1
const BORDER = 0.9
/** What the rest is covered with, and how far. */
const VEIL = { grey: 96, most: 0.88 }
/** Level at which an outline is drawn. */
const EDGE = 0.5

const held = (v: number) => (v < 0 ? 0 : v > 1 ? 1 : v)
const SLANT = Math.SQRT1_2

/**
 * Paints lines from..to of a mask as a layer over the picture, RGBA.
 * @param mask one plane, the whole of what is shown
 * @param x, y place of its first pixel in the frame: hatching stays where it is while the picture is moved
 * @param rgba address of the first byte of the layer
 */
export function paintMask(
  { memory }: Scratch,
  mask: Raster,
  look: MaskLook,
  { x: left, y: top }: { x: number; y: number },
  [from, to]: readonly [from: number, to: number],
  rgba: number,
): void {
  const { width, height } = mask
  const line = (y: number) =>
    new Float32Array(memory.buffer, address(mask, 0, 0, Math.min(Math.max(y, 0), height - 1)), width)
  for (let y = from; y < to; y++) {
    const out = new Uint8ClampedArray(memory.buffer, rgba + y * width * 4, width * 4)
    const values = line(y)
    if (look === 'outline')
      paintOutline(
        [-2, -1, 0, 1, 2].map((by) => line(y + by)),
        out,
      )
    else
      for (let x = 0; x < width; x++) {
        const m = values[x]
        let [grey, cover] = [0, 0]
        if (look === 'grey') [grey, cover] = [m * 255, 1]
        else if (look === 'rest') [grey, cover] = [VEIL.grey, (1 - m) * VEIL.most]
        else if (m > 0) [grey, cover] = hatched(m, left + x + top + y)
        const at = 4 * x
        out[at] = out[at + 1] = out[at + 2] = grey
        out[at + 3] = cover * 255
      }
  }
}

/** A line of the hatching: the more is let in, the wider. @param along x + y of the pixel */
function hatched(m: number, along: number): [grey: number, cover: number] {
  const across = (along * SLANT) % PITCH
  const off = Math.abs(across - PITCH / 2)
  const light = held(m * HALF - off + 0.5)
  const both = held(m * HALF + BORDER - off + 0.5) * held(m * 6)
  return both === 0 ? [0, 0] : [(255 * light) / Math.max(both, light), Math.max(0.55 * both, 0.95 * light)]
}

/** Where a mask passes its edge: light, with dark beside it. @param rows two lines above, the line, two below */
function paintOutline(rows: readonly Float32Array[], out: Uint8ClampedArray): void {
  const width = rows[0].length
  const passes = (x: number, by: number) => {
    let [some, all] = [false, true]
    for (let j = 2 - by; j <= 2 + by; j++)
      for (let i = Math.max(x - by, 0); i <= Math.min(x + by, width - 1); i++) {
        const inside = rows[j][i] >= EDGE
        some ||= inside
        all &&= inside
      }
    return some && !all
  }
  for (let x = 0; x < width; x++) {
    const at = 4 * x
    const near = passes(x, 2)
    const on = near && passes(x, 1)
    out[at] = out[at + 1] = out[at + 2] = on ? 255 : 0
    out[at + 3] = on ? 255 : near ? 150 : 0
  }
}
