import { profileOfSpace, readIcc, srgbProfile, unsupported, type RgbProfile } from '@dunkelkammer/core'

interface Box {
  type: string
  start: number
  end: number
}

/** Boxes of a part of an ISO base media file (ISO/IEC 14496-12, 4.2). */
function* boxes(bytes: Uint8Array, from: number, to: number): Generator<Box> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  for (let at = from; at + 8 <= to;) {
    let size = view.getUint32(at)
    let head = 8
    if (size === 1 && at + 16 <= to) {
      size = Number(view.getBigUint64(at + 8))
      head = 16
    } else if (size === 0) size = to - at
    if (size < head || at + size > to) return
    yield {
      type: String.fromCharCode(...bytes.subarray(at + 4, at + 8)),
      start: at + head,
      end: at + size,
    }
    at += size
  }
}

/** What the item properties of an image file in such boxes say (ISO/IEC 23008-12). */
export interface ImageProperties {
  width: number
  height: number
  /** Exif orientation that its rotation stands for. */
  orientation: number
  profile: RgbProfile
  exif?: Uint8Array
}

/** Profile of colours given by code points (ISO/IEC 23091-2). */
export function codedProfile(primaries: number, transfer: number): RgbProfile {
  if (transfer === 16 || transfer === 18)
    throw unsupported('its brightness is coded for a display of high range')
  const space = profileOfSpace(primaries === 9 ? 'rec2020' : primaries === 12 ? 'display-p3' : 'srgb')
  if (transfer === 8) return { ...space, curves: [(v) => v, (v) => v, (v) => v] }
  // 1, 6, 14 and 15 share one curve; everything else that is met here is the curve of sRGB
  const curves = [1, 6, 14, 15].includes(transfer) ? profileOfSpace('rec2020').curves : srgbProfile().curves
  return { ...space, curves }
}

/** Exif block that starts somewhere in the data, told by its mark and the start of a TIFF file. */
function exifIn(bytes: Uint8Array): Uint8Array | undefined {
  const mark = [0x45, 0x78, 0x69, 0x66, 0, 0]
  for (let i = bytes.indexOf(0x45); i >= 0 && i < bytes.length - 14; i = bytes.indexOf(0x45, i + 1)) {
    if (!mark.every((v, k) => bytes[i + k] === v)) continue
    const order = (bytes[i + 6] << 8) | bytes[i + 7]
    if (order === 0x4949 || order === 0x4d4d) return bytes.subarray(i + 6)
  }
  return undefined
}

export function imageProperties(bytes: Uint8Array): ImageProperties {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const found: ImageProperties = { width: 0, height: 0, orientation: 1, profile: srgbProfile() }
  let icc = false
  const walk = (from: number, to: number) => {
    for (const { type, start, end } of boxes(bytes, from, to)) {
      if (type === 'meta') walk(start + 4, end)
      else if (type === 'iprp' || type === 'ipco') walk(start, end)
      else if (type === 'ispe' && end - start >= 12) {
        const [w, h] = [view.getUint32(start + 4), view.getUint32(start + 8)]
        if (w * h > found.width * found.height) Object.assign(found, { width: w, height: h })
      } else if (type === 'irot' && end > start) found.orientation = [1, 8, 3, 6][bytes[start] & 3]
      else if (type === 'colr' && end - start >= 4) {
        const kind = String.fromCharCode(...bytes.subarray(start, start + 4))
        if (kind === 'prof' || kind === 'rICC') {
          found.profile = readIcc(bytes.subarray(start + 4, end))
          icc = true
        } else if (kind === 'nclx' && !icc && end - start >= 8)
          found.profile = codedProfile(view.getUint16(start + 4), view.getUint16(start + 6))
      }
    }
  }
  walk(0, bytes.length)
  return { ...found, exif: exifIn(bytes) }
}
