/** Columns and levels of the waveform's counts. */
export const WAVE_COLUMNS = 192
export const WAVE_LEVELS = 64
export const WAVE_COUNTS = 3 * WAVE_COLUMNS * WAVE_LEVELS

/**
 * Adds one line of 8-bit RGBA to the counts of levels over columns.
 * @param counts R, G, B one after the other, each WAVE_LEVELS lines (black first) of WAVE_COLUMNS
 */
export function addWaveform(counts: Uint32Array, line: Uint8Array): void {
  const width = line.length / 4
  for (let x = 0; x < width; x++) {
    const column = Math.floor((x * WAVE_COLUMNS) / width)
    for (let c = 0; c < 3; c++) counts[(c * WAVE_LEVELS + (line[4 * x + c] >> 2)) * WAVE_COLUMNS + column]++
  }
}
