import { damaged } from '../error'
import type { SensorFrame } from '../frame'
import type { Rect } from '../rect'
import type { Ifd } from '../tiff/reader'
import { TAG } from '../tiff/tags'

const inside = (r: Rect, width: number, height: number) =>
  r.x >= 0 && r.y >= 0 && r.width > 0 && r.height > 0 && r.x + r.width <= width && r.y + r.height <= height

const rect = ([top, left, bottom, right]: number[]): Rect => ({
  x: left,
  y: top,
  width: right - left,
  height: bottom - top,
})

/** Readable area; the whole sensor where the file names none. */
export function activeArea(ifd: Ifd, width: number, height: number): Rect {
  const a = ifd.numbers(TAG.ActiveArea)
  if (a.length !== 4) return { x: 0, y: 0, width, height }
  const area = rect(a)
  if (!inside(area, width, height) || area.width < 16 || area.height < 16)
    throw damaged('its active area lies outside the sensor')
  return area
}

/** Areas that get no light; those that lie outside the sensor are left out. */
export function maskedAreas(ifd: Ifd, width: number, height: number): Rect[] {
  const v = ifd.numbers(TAG.MaskedAreas)
  const out: Rect[] = []
  for (let i = 0; i + 4 <= v.length && out.length < 16; i += 4) {
    const area = rect(v.slice(i, i + 4))
    if (inside(area, width, height)) out.push(area)
  }
  return out
}

/** The picture as the maker wants it cropped, in whole pixels. */
export function pictureArea(ifd: Ifd, active: Rect): Rect {
  const origin = ifd.numbers(TAG.DefaultCropOrigin)
  const size = ifd.numbers(TAG.DefaultCropSize)
  if (origin.length !== 2 || size.length !== 2) return active
  const [x, y] = origin.map(Math.round)
  const crop = { x, y, width: Math.floor(size[0] + 0.01), height: Math.floor(size[1] + 0.01) }
  if (!(inside(crop, active.width, active.height) && crop.width >= 16 && crop.height >= 16))
    throw damaged('its crop lies outside the sensor')
  return { ...crop, x: active.x + crop.x, y: active.y + crop.y }
}

/** Factors that make the pixels square, the larger edge never less than as stored. */
export function pixelScale(ifd: Ifd): SensorFrame['pixelScale'] {
  const v = ifd.numbers(TAG.DefaultScale)
  if (v.length !== 2) return [1, 1]
  if (!(v[0] > 0.1 && v[0] < 10 && v[1] > 0.1 && v[1] < 10))
    throw damaged('its pixels have an impossible shape')
  // only the shape of the pixels counts here; a larger picture is the photographer's choice
  const least = Math.min(v[0], v[1])
  return [v[0] / least, v[1] / least]
}
