import { damaged, readIcc, srgbProfile, unsupported } from '@dunkelkammer/core'
import { decode } from 'jpeg-js'
import { checkSize, type DisplayPicture } from './display'
import { aboutOf } from './exif'

interface Segments {
  width: number
  height: number
  components: number
  exif?: Uint8Array
  icc?: Uint8Array
}

const starts = (bytes: Uint8Array, at: number, text: string) =>
  [...text].every((c, i) => bytes[at + i] === c.charCodeAt(0))

/** Reads a JPEG's segments up to its first scan (ITU-T T.81 annex B, ICC.1 annex B.4). */
function segments(bytes: Uint8Array): Segments {
  const found: Segments = { width: 0, height: 0, components: 0 }
  const icc: Uint8Array[] = []
  let at = 2
  let scan = 0
  while (at + 4 <= bytes.length && !scan) {
    if (bytes[at] !== 0xff) throw damaged('its segments do not follow one another')
    const marker = bytes[at + 1]
    if (marker === 0xff) {
      at++
      continue
    }
    const size = (bytes[at + 2] << 8) | bytes[at + 3]
    const body = bytes.subarray(at + 4, at + 2 + size)
    if (marker === 0xe1 && starts(body, 0, 'Exif\0\0')) found.exif = body.subarray(6)
    else if (marker === 0xe2 && starts(body, 0, 'ICC_PROFILE\0')) icc[body[12] - 1] = body.subarray(14)
    else if (marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker)) {
      if (marker > 0xc2) throw unsupported('its kind of JPEG coding')
      if (body[0] !== 8) throw unsupported(`a JPEG of ${body[0]} bits`)
      Object.assign(found, {
        height: (body[1] << 8) | body[2],
        width: (body[3] << 8) | body[4],
        components: body[5],
      })
    } else if (marker === 0xda) scan = at
    at += 2 + size
  }
  if (!scan || !found.width) throw damaged('it ends before the picture does')
  let end = bytes.length - 1
  while (end > scan && !(bytes[end - 1] === 0xff && bytes[end] === 0xd9)) end--
  if (end <= scan) throw damaged('it ends before the picture does')
  if (icc.length) {
    const parts = icc.filter(Boolean)
    const all = new Uint8Array(parts.reduce((n, p) => n + p.length, 0))
    parts.reduce((o, p) => (all.set(p, o), o + p.length), 0)
    found.icc = all
  }
  return found
}

/** Decodes a baseline or progressive JPEG of grey or three components. */
export function decodeJpegPicture(bytes: Uint8Array): DisplayPicture {
  const s = segments(bytes)
  checkSize(s.width, s.height)
  if (s.components !== 1 && s.components !== 3) throw unsupported('a JPEG of four inks')
  let picture
  try {
    picture = decode(bytes, {
      useTArray: true,
      formatAsRGBA: false,
      tolerantDecoding: false,
      maxResolutionInMP: 101,
      maxMemoryUsageInMB: 1600,
    })
  } catch {
    throw damaged('the picture cannot be decompressed')
  }
  return {
    width: s.width,
    height: s.height,
    channels: 3,
    data: picture.data,
    profile: s.icc ? readIcc(s.icc) : srgbProfile(),
    ...aboutOf(s.exif),
  }
}
