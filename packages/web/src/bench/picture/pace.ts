/** Longest that a picture under the hand is to take, in milliseconds. */
const FRAME_MS = 26
/** Of the sides of a picture at rest, where a moving one cannot be made whole in time. */
export const COARSE = 0.6
/** Of each new time in the estimate. */
const WEIGHT = 0.4
/** A larger picture is taken up again only where there is room to spare. */
const ROOM = 0.8

/**
 * How large a whole picture is made while a hand moves it, by how long the last ones took: as large as it is shown where
 * the machine can, coarser where it cannot. What is at rest is never coarser.
 */
export class Pace {
  private perPixel?: number
  private coarse = false

  /** Part of its sides in which a moving picture is made. @param pixels of the picture at rest */
  shareFor(pixels: number): number {
    const time = (this.perPixel ?? 0) * pixels
    this.coarse = time > FRAME_MS * (this.coarse ? ROOM : 1)
    return this.coarse ? COARSE : 1
  }

  /** A picture has taken so long. */
  took(ms: number, pixels: number): void {
    const each = ms / pixels
    this.perPixel = this.perPixel === undefined ? each : this.perPixel * (1 - WEIGHT) + each * WEIGHT
  }
}
