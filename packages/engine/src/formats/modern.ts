import { imageProperties } from './container/properties'
import type { Placing } from './container/placing'
import { checkSize, type DisplayPicture } from './display'
import { aboutOf } from './exif'
import { decoded, exact } from './decoded'
import type { Codecs, Rgba } from './codecs'

/** The part of a picture that is shown. */
function shownPart<T extends Rgba>(picture: T, { x, y, width, height }: Placing): Rgba {
  if (width === picture.width && height === picture.height) return picture
  const data = picture.data.slice(0, width * height * 4)
  for (let j = 0; j < height; j++) {
    const from = ((y + j) * picture.width + x) * 4
    data.set(picture.data.subarray(from, from + width * 4), j * width * 4)
  }
  return { width, height, data }
}

export async function decodeAvifPicture(bytes: Uint8Array, codecs: Codecs): Promise<DisplayPicture> {
  const p = imageProperties(bytes)
  checkSize(p.width, p.height)
  const avif = await codecs.avif()
  // the decoder gives the picture as it is stored
  const stored = await decoded(() => avif(exact(bytes), 16))
  const { width, height, data } = p.placing ? shownPart(stored, p.placing) : stored
  checkSize(width, height)
  const { about, orientation } = aboutOf(p.exif)
  return {
    ...{ width, height, data, channels: 4, profile: p.profile, about },
    orientation: p.placing?.orientation ?? orientation,
  }
}

export async function decodeHeifPicture(bytes: Uint8Array, codecs: Codecs): Promise<DisplayPicture> {
  const p = imageProperties(bytes)
  checkSize(p.width, p.height)
  const heif = await codecs.heif()
  const { width, height, data } = await decoded(() => heif(bytes, p.bits > 8))
  checkSize(width, height)
  const { about, orientation } = aboutOf(p.exif)
  // what the file says of its turn the decoder has done already
  return {
    ...{ width, height, data, channels: 4, profile: p.profile, about },
    orientation: p.placing ? 1 : orientation,
  }
}
