import type { Storage } from '../frame'

/** Sums the differences of a line of whole samples up again (TIFF 6.0, section 14); `by` samples apart. */
export function undoHorizontal(line: Uint8Array, bytes: 1 | 2, littleEndian: boolean, by: number): void {
  if (bytes === 1) {
    for (let i = by; i < line.length; i++) line[i] = (line[i] + line[i - by]) & 255
    return
  }
  const [low, high] = littleEndian ? [0, 1] : [1, 0]
  for (let i = by * 2; i + 1 < line.length; i += 2) {
    const j = i - by * 2
    const v = line[i + low] + line[j + low] + ((line[i + high] + line[j + high]) << 8)
    line[i + low] = v & 255
    line[i + high] = (v >> 8) & 255
  }
}

/**
 * A line of floats from byte planes of differences (TIFF technical note 3): planes by significance, the highest
 * first, so that the result is big-endian.
 */
export function undoFloat(line: Uint8Array, bytes: number, by: number): Uint8Array {
  for (let i = by; i < line.length; i++) line[i] = (line[i] + line[i - by]) & 255
  const n = line.length / bytes
  const out = new Uint8Array(line.length)
  for (let i = 0; i < n; i++) for (let b = 0; b < bytes; b++) out[i * bytes + b] = line[b * n + i]
  return out
}

/** Undoes a line's prediction. @returns the line's bytes and their order */
export function undoPrediction(line: Uint8Array, s: Storage): { line: Uint8Array; littleEndian: boolean } {
  const by = s.predictor.stride * s.samples
  if (s.predictor.kind === 'float') return { line: undoFloat(line, s.bits / 8, by), littleEndian: false }
  if (s.predictor.kind === 'horizontal') undoHorizontal(line, (s.bits / 8) as 1 | 2, s.littleEndian, by)
  return { line, littleEndian: s.littleEndian }
}
