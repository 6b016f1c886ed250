/** Height of the horizon where there is no sky to tell, share of the picture's from its top, and how sure that is. */
const GUESS = { at: 0.45, sure: 0.5 } as const
/** Least share of the columns in which there must be sky. */
const ENOUGH = 0.3
/** Share of the columns whose sky ends above the horizon: things stand before it. */
const BEHIND = 0.8

/**
 * Where the horizon lies, rows from the top: where the sky reaches lowest in most of them.
 * @param sky 0 or 1
 * @returns also how sure that is, 0..1
 */
export function horizonOf(
  { width, height }: { width: number; height: number },
  sky: Uint8Array,
): { row: number; sure: number } {
  const ends: number[] = []
  for (let x = 0; x < width; x++)
    for (let y = height - 1; y >= 0; y--)
      if (sky[y * width + x]) {
        ends.push(y + 1)
        break
      }
  if (ends.length < ENOUGH * width) return { row: GUESS.at * height, sure: GUESS.sure }
  ends.sort((a, b) => a - b)
  return { row: ends[Math.floor(BEHIND * (ends.length - 1))], sure: 1 }
}
