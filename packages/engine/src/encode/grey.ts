import sharp from 'sharp'

/** Encodes greys, line by line, as a PNG. */
export const encodeGrey = ({
  width,
  height,
  grey,
}: {
  width: number
  height: number
  grey: Uint8Array
}): Promise<Uint8Array> =>
  sharp(grey, { raw: { width, height, channels: 1 }, limitInputPixels: false })
    .toColourspace('b-w')
    .png({ compressionLevel: 6 })
    .toBuffer()
