import { address, type Raster } from '../memory'
import type { SensorFrame } from './frame'

/** What of a file the mending needs. */
export type ListedFrame = Pick<SensorFrame, 'active' | 'width' | 'pattern' | 'opcodes'>

/** More listed places than this are no list of faults. */
const MOST = 1 << 22

/** All places that the file's opcodes for stored samples call bad, as y * width + x; counted from the active area. */
export function listedPlaces(frame: ListedFrame, stored: (x: number, y: number) => number): Set<number> {
  const { active, width } = frame
  const bad = new Set<number>()
  const add = (x: number, y: number) => {
    if (x >= 0 && y >= 0 && x < active.width && y < active.height && bad.size < MOST)
      bad.add((y + active.y) * width + x + active.x)
  }
  for (const op of frame.opcodes.stored) {
    if (op.kind === 'fix-bad-pixels-constant')
      for (let y = 0; y < active.height; y++)
        for (let x = 0; x < active.width; x++) if (stored(x + active.x, y + active.y) === op.value) add(x, y)
    if (op.kind !== 'fix-bad-pixels-list') continue
    for (const [x, y] of op.points) add(x, y)
    for (const r of op.areas)
      for (let y = r.y; y < Math.min(r.y + r.height, active.height); y++)
        for (let x = r.x; x < Math.min(r.x + r.width, active.width); x++) add(x, y)
  }
  return bad
}

/**
 * Replaces the listed bad photosites by the mean of the nearest sound ones of the same colour, up to three rings of
 * the pattern away. In place.
 */
export function mendListed(buffer: ArrayBufferLike, sensor: Raster, frame: ListedFrame): void {
  const wide = sensor.format === 'f32'
  const line = (y: number) =>
    wide
      ? new Float32Array(buffer, address(sensor, 0, 0, y), sensor.width)
      : new Uint16Array(buffer, address(sensor, 0, 0, y), sensor.width)
  const lines = Array.from({ length: sensor.height }, (_, y) => line(y))
  const { active, pattern, width } = frame
  const colour = (x: number, y: number) =>
    pattern.colours[(y % pattern.size) * pattern.size + (x % pattern.size)]
  const bad = listedPlaces(frame, (x, y) => lines[y][x])
  const mended: [number, number, number][] = []
  for (const place of bad) {
    const x = place % width
    const y = Math.floor(place / width)
    const own = colour(x, y)
    for (let ring = 1; ring <= 6; ring++) {
      let sum = 0
      let n = 0
      for (let j = -ring; j <= ring; j++)
        for (let i = -ring; i <= ring; i++) {
          if (Math.max(Math.abs(i), Math.abs(j)) !== ring) continue
          const sx = x + i
          const sy = y + j
          if (
            sx < active.x ||
            sy < active.y ||
            sx >= active.x + active.width ||
            sy >= active.y + active.height
          )
            continue
          if (colour(sx, sy) !== own || bad.has(sy * width + sx)) continue
          // nearer ones count for more
          const w = 1 / (i * i + j * j)
          sum += w * lines[sy][sx]
          n += w
        }
      if (n > 0) {
        mended.push([x, y, wide ? sum / n : Math.round(sum / n)])
        break
      }
    }
  }
  for (const [x, y, v] of mended) lines[y][x] = v
}
