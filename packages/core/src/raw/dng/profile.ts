import { ILLUMINANT_KELVIN, type FileProfile, type HsvTable } from '../../colour'
import { damaged } from '../error'
import type { Ifd } from '../tiff/reader'
import { TAG } from '../tiff/tags'

const MAX_ENTRIES = 1 << 17

function table(ifd: Ifd, dims: number, data: number, encoding: number): HsvTable | undefined {
  const size = ifd.numbers(dims)
  const values = Float32Array.from(ifd.numbers(data))
  if (size.length < 2 || values.length === 0) return undefined
  const [hues, saturations, levels = 1] = size
  const count = hues * saturations * levels
  if (!(hues >= 1 && saturations >= 2 && levels >= 1 && count <= MAX_ENTRIES) || values.length !== count * 3)
    throw damaged('its colour tables have an impossible size')
  if (!values.every(isFinite)) throw damaged('its colour tables make no sense')
  return { hues, saturations, levels, values, encoded: ifd.number(encoding) === 1 }
}

/** The tables of the maker's own rendering; nothing where the file has none (DNG 1.7, chapter 6). */
export function readProfile(main: Ifd): FileProfile | undefined {
  const first = table(main, TAG.ProfileHueSatMapDims, TAG.ProfileHueSatMapData1, TAG.ProfileHueSatMapEncoding)
  const second = table(
    main,
    TAG.ProfileHueSatMapDims,
    TAG.ProfileHueSatMapData2,
    TAG.ProfileHueSatMapEncoding,
  )
  const look = table(main, TAG.ProfileLookTableDims, TAG.ProfileLookTableData, TAG.ProfileLookTableEncoding)
  const points = main.numbers(TAG.ProfileToneCurve)
  let toneCurve: [number, number][] | undefined
  if (points.length >= 4) {
    if (points.length % 2 || !points.every(isFinite)) throw damaged('its tone curve makes no sense')
    toneCurve = []
    for (let i = 0; i < points.length; i += 2) toneCurve.push([points[i], points[i + 1]])
    if (toneCurve.some(([x], i) => i > 0 && x <= toneCurve![i - 1][0]))
      throw damaged('its tone curve makes no sense')
  }
  const maps = [first, second]
    .map((map, i) => ({
      map,
      light: main.number(i ? TAG.CalibrationIlluminant2 : TAG.CalibrationIlluminant1) ?? 0,
    }))
    .flatMap(({ map, light }, i) =>
      map ? [{ kelvin: ILLUMINANT_KELVIN[light] ?? (i ? 6504 : 5003), map }] : [],
    )
  if (maps.length === 0 && !look && !toneCurve) return undefined
  return { name: main.text(TAG.ProfileName), maps, look, toneCurve }
}
