/** Samples of 1, 2 or 4 bits as bytes, each line beginning at a byte. */
export function unpackBits(data: Uint8Array, width: number, height: number, bits: number): Uint8Array {
  const line = Math.ceil((width * bits) / 8)
  const out = new Uint8Array(width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const bit = x * bits
      out[y * width + x] = (data[y * line + (bit >> 3)] >> (8 - bits - (bit & 7))) & (2 ** bits - 1)
    }
  return out
}
