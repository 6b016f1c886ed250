import { damaged, profileOfSpace, srgbProfile, unsupported } from '@dunkelkammer/core'
import { concatenated } from './bytes'
import type { Codecs } from './codecs'
import { checkSize, type DisplayPicture } from './display'
import { aboutOf, isWide } from './exif'
import { profileFrom } from './pictureProfile'

interface Segments {
  width: number
  height: number
  components: number
  /** Whether the mark of the file's end is there. */
  ended: boolean
  /** Whether every coefficient of every component was sent to its last bit. */
  complete: boolean
  exif?: Uint8Array
  icc?: Uint8Array
  /** Pixels per inch of its first segment (JFIF 1.02). */
  ppi?: number
}

/** How far each component's 64 coefficients have come: bits that are still to be sent, -1 where none was. */
type Sent = Map<number, Int8Array>

const starts = (bytes: Uint8Array, at: number, text: string) =>
  [...text].every((c, i) => bytes[at + i] === c.charCodeAt(0))

/** Where the entropy-coded data from `at` on end: at a marker that is none of restarting. */
function endOfScan(bytes: Uint8Array, at: number): number {
  for (let i = bytes.indexOf(0xff, at); i >= 0 && i + 1 < bytes.length; i = bytes.indexOf(0xff, i + 1)) {
    const marker = bytes[i + 1]
    if (marker !== 0 && marker !== 0xff && !(marker >= 0xd0 && marker <= 0xd7)) return i
  }
  return bytes.length
}

/** Notes what a scan sends (ITU-T T.81, B.2.3). */
function noteScan(header: Uint8Array, progressive: boolean, sent: Sent): void {
  const count = header[0]
  const [from, to, bits] = progressive
    ? [header[1 + 2 * count], header[2 + 2 * count], header[3 + 2 * count] & 15]
    : [0, 63, 0]
  for (let i = 0; i < count; i++) sent.get(header[1 + 2 * i])?.fill(bits, from, Math.min(to, 63) + 1)
}

/** Pixels per inch; nothing where the segment tells no more than their shape. */
function densityOf(body: Uint8Array): number | undefined {
  const [unit, across] = [body[7], (body[8] << 8) | body[9]]
  return unit === 1 ? across : unit === 2 ? across * 2.54 : undefined
}

/** Reads a JPEG's segments up to its end (ITU-T T.81 annex B, ICC.1 annex B.4). */
function segments(bytes: Uint8Array): Segments {
  const found: Segments = { width: 0, height: 0, components: 0, ended: false, complete: false }
  const icc: Uint8Array[] = []
  const sent: Sent = new Map()
  let progressive = false
  let scans = 0
  let at = 2
  while (at + 4 <= bytes.length || (bytes[at] === 0xff && bytes[at + 1] === 0xd9)) {
    if (bytes[at] !== 0xff) throw damaged('its segments do not follow one another')
    const marker = bytes[at + 1]
    if (marker === 0xff) {
      at++
      continue
    }
    if (marker === 0xd9) {
      found.ended = true
      break
    }
    const size = (bytes[at + 2] << 8) | bytes[at + 3]
    const body = bytes.subarray(at + 4, at + 2 + size)
    at += 2 + size
    if (marker === 0xe0 && starts(body, 0, 'JFIF\0')) found.ppi = densityOf(body)
    else if (marker === 0xe1 && starts(body, 0, 'Exif\0\0')) found.exif = body.subarray(6)
    else if (marker === 0xe2 && starts(body, 0, 'ICC_PROFILE\0')) icc[body[12] - 1] = body.subarray(14)
    else if (marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker)) {
      if (marker > 0xc2) throw unsupported('its kind of JPEG coding')
      if (body[0] !== 8) throw unsupported(`a JPEG of ${body[0]} bits`)
      progressive = marker === 0xc2
      Object.assign(found, {
        height: (body[1] << 8) | body[2],
        width: (body[3] << 8) | body[4],
        components: body[5],
      })
      for (let i = 0; i < body[5]; i++) sent.set(body[6 + 3 * i], new Int8Array(64).fill(-1))
    } else if (marker === 0xda) {
      scans++
      noteScan(body, progressive, sent)
      at = endOfScan(bytes, at)
    }
  }
  if (!scans || !found.width) throw damaged('it ends before the picture does')
  found.complete = [...sent.values()].every((bits) => bits.every((b) => b === 0))
  if (icc.length) {
    found.icc = concatenated(icc.filter(Boolean))
  }
  return found
}

/** What a decoder says where a picture could not be decoded as it was meant. */
const isCorrupt = (warning: string) =>
  /^Premature end/.test(warning) ||
  // bytes that fill up before the end are ordinary; before a restart something was lost
  (/^Corrupt JPEG data/.test(warning) && !/extraneous bytes before marker 0x(?!d[0-7])/.test(warning))

/**
 * Decodes a baseline or progressive JPEG of grey or three components, its chroma enlarged between its samples.
 * @throws RawError where it is damaged or of another kind; a file that lacks the mark of its end alone is whole
 */
export async function decodeJpegPicture(bytes: Uint8Array, codecs: Codecs): Promise<DisplayPicture> {
  const s = segments(bytes)
  const { width, height } = s
  checkSize(width, height)
  if (s.components !== 1 && s.components !== 3) throw unsupported('a JPEG of four inks')
  if (!s.ended && !s.complete) throw damaged('it ends before the picture does')
  const whole = new Uint8Array(bytes.length + 2)
  whole.set(bytes)
  // with its end the decoder tells a scan that is cut from one that is whole
  whole.set([0xff, 0xd9], bytes.length)
  const decode = await codecs.jpeg()
  const picture = await decode(whole.buffer).catch(() => undefined)
  if (!picture || picture.width !== width || picture.height !== height)
    throw damaged('the picture cannot be decompressed')
  if (picture.warning !== undefined && isCorrupt(picture.warning))
    throw damaged(s.ended ? 'a part of the picture is spoiled' : 'it ends before the picture does')
  const data = new Uint8Array(width * height * 3)
  for (let from = 0, to = 0; to < data.length; from += 4, to += 3) {
    data[to] = picture.data[from]
    data[to + 1] = picture.data[from + 1]
    data[to + 2] = picture.data[from + 2]
  }
  return {
    ...{ width, height, data, channels: 3 },
    profile: s.icc ? profileFrom(s.icc) : isWide(s.exif) ? profileOfSpace('oprgb') : srgbProfile(),
    ...aboutOf(s.exif, s.ppi),
  }
}
