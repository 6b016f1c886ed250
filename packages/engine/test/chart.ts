import {
  ciede2000,
  adaptation,
  apply,
  D50,
  labFromXyz,
  toLab,
  working,
  xyOf,
  type Triple,
} from '@dunkelkammer/core'
import {
  cameraFile,
  CHART,
  LAMPS,
  levelsOf,
  NEUTRAL_PATCH,
  signalsOf,
  times,
  veldrom,
  xyzOf,
  type LampName,
} from '@dunkelkammer/demo'

/** Side of a patch of the photographed chart, six by four of them. */
export const PATCH = 32
export const CHART_WIDTH = PATCH * 6
export const CHART_HEIGHT = PATCH * 4

const signals = (lamp: LampName, i: number): Triple =>
  signalsOf(veldrom.curves, times(CHART[i].reflectance, LAMPS[lamp]))

/** The chart under a lamp, by spectra, as a file without noise; balanced on a grey patch. */
export function chartFile(lamp: LampName, exposure: number): Uint8Array {
  const { black, white } = levelsOf(veldrom, {})
  const green = signalsOf(veldrom.curves, LAMPS[lamp])[1]
  const mosaic = new Uint16Array(CHART_WIDTH * CHART_HEIGHT)
  for (let y = 0; y < CHART_HEIGHT; y++)
    for (let x = 0; x < CHART_WIDTH; x++) {
      const patch = Math.floor(y / PATCH) * 6 + Math.floor(x / PATCH)
      const c = [0, 1, 1, 2][(y & 1) * 2 + (x & 1)]
      const signal = (signals(lamp, patch)[c] / green) * exposure
      mosaic[y * CHART_WIDTH + x] = Math.round(black + Math.min(signal, 1) * (white - black))
    }
  const grey = signals(lamp, NEUTRAL_PATCH)
  const top = Math.max(...grey)
  const asShotNeutral = grey.map((v) => v / top) as unknown as Triple
  return cameraFile(veldrom, { width: CHART_WIDTH, height: CHART_HEIGHT }, mosaic, [1, 1, 1], {
    asShotNeutral,
  })
}

/** Lab (D50) of the patches as the eye sees them, adapted to the lamp. */
export function chartTruth(lamp: LampName): Triple[] {
  const white = xyzOf(LAMPS[lamp])
  const adapt = adaptation(xyOf(white), D50)
  return CHART.map(({ reflectance }) =>
    labFromXyz(
      apply(adapt, xyzOf(times(reflectance, LAMPS[lamp])).map((v) => v / white[1]) as unknown as Triple),
    ),
  )
}

/** Mean of the middle of a patch in an interleaved 16-bit picture. */
export function patchMean(values: Uint16Array, i: number): Triple {
  const x0 = (i % 6) * PATCH + 10
  const y0 = Math.floor(i / 6) * PATCH + 10
  const sum = [0, 0, 0]
  for (let y = 0; y < 12; y++)
    for (let x = 0; x < 12; x++)
      for (let c = 0; c < 3; c++) sum[c] += values[((y0 + y) * CHART_WIDTH + x0 + x) * 3 + c] / 65535
  return sum.map((v) => v / 144) as unknown as Triple
}

/** Scene light of a white surface: a camera's fullest channel on the grey patch stands for its white level. */
function whiteLight(lamp: LampName, exposure: number): number {
  const grey = signals(lamp, NEUTRAL_PATCH)
  return (exposure * Math.max(...grey)) / grey[1]
}

/** CIEDE2000 of every patch of a linear 16-bit picture of the chart. */
export function chartErrors(lamp: LampName, values: Uint16Array, exposure: number): number[] {
  const truth = chartTruth(lamp)
  const white = whiteLight(lamp, exposure)
  return truth.map((lab, i) =>
    ciede2000(toLab(working, patchMean(values, i).map((v) => v / white) as unknown as Triple), lab),
  )
}
