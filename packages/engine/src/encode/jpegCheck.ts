const TABLES = 0xdb
const HUFFMAN = 0xc4
const SCAN = 0xda

const isFrame = (marker: number) =>
  marker >= 0xc0 && marker <= 0xcf && ![HUFFMAN, 0xc8, 0xcc].includes(marker)

/**
 * Whether the segments of a JPEG (ITU-T T.81 annex B) follow on one another up to a scan, with a frame and the tables
 * that it needs, and the file ends where it should. Says nothing of the scan itself, and takes no time.
 */
export function looksWhole(jpeg: Uint8Array): boolean {
  if (jpeg[0] !== 0xff || jpeg[1] !== 0xd8) return false
  const seen = new Set<'frame' | number>()
  for (let at = 2; at + 4 <= jpeg.length;) {
    if (jpeg[at] !== 0xff) return false
    const marker = jpeg[at + 1]
    if (marker === 0xff) {
      at++
      continue
    }
    seen.add(isFrame(marker) ? 'frame' : marker)
    if (marker === SCAN) {
      // an end may be followed by filling
      const tail = jpeg.subarray(Math.max(jpeg.length - 64, 0))
      const ends = tail.some((b, i) => b === 0xff && tail[i + 1] === 0xd9)
      return ends && seen.has('frame') && seen.has(TABLES) && seen.has(HUFFMAN)
    }
    at += 2 + ((jpeg[at + 2] << 8) | jpeg[at + 3])
  }
  return false
}
