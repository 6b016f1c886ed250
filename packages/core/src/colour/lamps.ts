import type { Xy } from './chromaticity'

/** A kind of light by its chromaticity; what a camera makes of it follows from the camera's own matrices. */
export interface Lamp {
  id: LampId
  label: string
  xy: Xy
}

export const LAMP_IDS = [
  'daylight',
  'cloud',
  'shade',
  'flash',
  'tungsten',
  'tubeWarm',
  'tubeCool',
  'tubeDaylight',
  'tubeThreeBand',
  'diode',
] as const
export type LampId = (typeof LAMP_IDS)[number]

/** Chromaticities of the CIE's illuminants D55, D65, D75, D60, A, F4, F2, F7, F11 and LED-B3 (CIE 15:2018). */
export const LAMP_LIST: readonly Lamp[] = [
  { id: 'daylight', label: 'Daylight', xy: [0.33243, 0.34744] },
  { id: 'cloud', label: 'Cloud', xy: [0.31272, 0.32903] },
  { id: 'shade', label: 'Shade', xy: [0.29903, 0.31488] },
  { id: 'flash', label: 'Flash', xy: [0.32169, 0.3378] },
  { id: 'tungsten', label: 'Tungsten', xy: [0.44758, 0.40745] },
  { id: 'tubeWarm', label: 'Tube, warm white', xy: [0.44018, 0.40329] },
  { id: 'tubeCool', label: 'Tube, cool white', xy: [0.37208, 0.37529] },
  { id: 'tubeDaylight', label: 'Tube, daylight', xy: [0.31292, 0.32933] },
  { id: 'tubeThreeBand', label: 'Tube, three bands', xy: [0.38052, 0.37713] },
  { id: 'diode', label: 'Diode lamp', xy: [0.3756, 0.3723] },
]

export const lampById = (id: LampId): Lamp => LAMP_LIST.find((l) => l.id === id)!
