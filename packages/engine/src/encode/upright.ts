import sharp from 'sharp'

/**
 * A camera's embedded JPEG turned to stand upright. Its own orientation counts where it has one, the raw file's
 * otherwise.
 * @param orientation of the raw file (Exif 3)
 */
export async function uprightJpeg(jpeg: Uint8Array, orientation: number): Promise<Uint8Array> {
  const own = (await sharp(jpeg).metadata()).orientation
  const turn = own ?? orientation
  if (turn === 1) return jpeg
  const mirrored = [2, 4, 5, 7].includes(turn)
  // a mirrored picture is mirrored sideways first, then turned
  const angle = { 3: 180, 4: 180, 5: 270, 6: 90, 7: 90, 8: 270 }[turn] ?? 0
  const first = mirrored ? await sharp(jpeg).flop().toBuffer() : jpeg
  return sharp(first).rotate(angle).jpeg({ quality: 88 }).toBuffer()
}
