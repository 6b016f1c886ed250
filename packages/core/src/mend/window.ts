/** A piece of a picture in three planes of numbers, line by line. */
export interface Window {
  /** Place of the first sample in the picture. */
  x: number
  y: number
  width: number
  height: number
  planes: readonly [Float32Array, Float32Array, Float32Array]
}

const cubic = (t: number): readonly [number, number, number, number] => {
  // Catmull and Rom 1974
  const a = ((2 - t) * t - 1) * t * 0.5
  const b = (t * t * (3 * t - 5) + 2) * 0.5
  const c = ((4 - 3 * t) * t + 1) * t * 0.5
  return [a, b, c, 1 - a - b - c]
}

/**
 * The value of a plane at a place, whole numbers being the middles of samples; between them by a cubic.
 * Beyond the window its edge is repeated.
 */
export function valueAt(
  { x, y, width, height, planes }: Window,
  plane: number,
  px: number,
  py: number,
): number {
  const values = planes[plane]
  const [u, v] = [px - x, py - y]
  const [i, j] = [Math.floor(u), Math.floor(v)]
  const hold = (k: number, most: number) => (k < 0 ? 0 : k > most ? most : k)
  if (u === i && v === j) return values[hold(j, height - 1) * width + hold(i, width - 1)]
  const [across, down] = [cubic(u - i), cubic(v - j)]
  let sum = 0
  for (let b = 0; b < 4; b++) {
    const line = hold(j + b - 1, height - 1) * width
    let row = 0
    for (let a = 0; a < 4; a++) row += across[a] * values[line + hold(i + a - 1, width - 1)]
    sum += down[b] * row
  }
  return sum
}
