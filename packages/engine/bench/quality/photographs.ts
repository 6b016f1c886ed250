import { apply, decode, invert, multiply, srgb, working, type Triple } from '@dunkelkammer/core'
import { readdirSync } from 'node:fs'
import { join } from 'node:path'
import sharp from 'sharp'

/** A picture as radiance: interleaved linear Rec. 2020. */
export interface Photograph {
  name: string
  width: number
  height: number
  rgb: Float32Array
}

/** Longest edge that photographs are made to. */
const LONG = 360

/** Ordinary photographs of a folder, made small. None without a folder. */
export async function photographs(folder: string | undefined, long = LONG): Promise<Photograph[]> {
  if (!folder) return []
  const names = readdirSync(folder).filter((f) => /\.(png|jpe?g)$/i.test(f))
  return Promise.all(
    names.sort().map(async (file) => {
      const { data, info } = await sharp(join(folder, file))
        .removeAlpha()
        .toColourspace('srgb')
        .resize(long, long, { fit: 'inside' })
        .raw()
        .toBuffer({ resolveWithObject: true })
      const toWorking = multiply(invert(working.toXyz), srgb.toXyz)
      const light = Float32Array.from({ length: 256 }, (_, v) => decode(srgb.curve, v / 255))
      const rgb = new Float32Array(data.length)
      for (let i = 0; i < rgb.length; i += 3)
        apply(toWorking, [light[data[i]], light[data[i + 1]], light[data[i + 2]]] as Triple).forEach(
          (v, k) => (rgb[i + k] = Math.max(v, 0)),
        )
      return { name: file.replace(/\.\w+$/, ''), width: info.width, height: info.height, rgb }
    }),
  )
}
