import { bell } from './lamps'
import { WAVELENGTHS, type Spectrum } from './observer'

const rise = (nm: number, centre: number, width: number) => 1 / (1 + Math.exp(-(nm - centre) / width))
const over = (f: (nm: number) => number): Spectrum =>
  WAVELENGTHS.map((nm) => Math.min(Math.max(f(nm), 0.01), 0.97))

/** Blood shows as two dips around 545 and 575 nm. */
const skin = (base: number, melanin: number) =>
  over(
    (nm) =>
      base *
      (0.36 + 0.75 * rise(nm, 590, 26) + 0.14 * rise(nm, 470, 30)) *
      Math.pow(nm / 700, melanin) *
      (1 - 0.16 * bell(nm, 544, 12) - 0.16 * bell(nm, 577, 9) - 0.2 * bell(nm, 420, 18)),
  )
const grey = (level: number) => over((nm) => level * (1 + 0.02 * ((nm - 555) / 175)))

/** A patch of the chart. */
export interface Patch {
  name: string
  kind: 'skin' | 'foliage' | 'sky' | 'saturated' | 'earth' | 'grey'
  reflectance: Spectrum
}

/** A chart of our own: 24 smooth reflectances, four rows of six. */
export const CHART: readonly Patch[] = [
  { name: 'pale skin', kind: 'skin', reflectance: skin(0.62, 0.9) },
  { name: 'tanned skin', kind: 'skin', reflectance: skin(0.42, 1.6) },
  { name: 'dark skin', kind: 'skin', reflectance: skin(0.17, 1.9) },
  {
    name: 'meadow',
    kind: 'foliage',
    reflectance: over((nm) => 0.05 + 0.17 * bell(nm, 552, 28, 32) + 0.4 * rise(nm, 702, 9)),
  },
  {
    name: 'willow',
    kind: 'foliage',
    reflectance: over((nm) => 0.03 + 0.075 * bell(nm, 548, 26, 36) + 0.28 * rise(nm, 705, 10)),
  },
  {
    name: 'reed',
    kind: 'foliage',
    reflectance: over(
      (nm) => 0.07 + 0.24 * rise(nm, 530, 24) - 0.05 * bell(nm, 676, 14) + 0.1 * rise(nm, 705, 9),
    ),
  },

  { name: 'clear sky', kind: 'sky', reflectance: over((nm) => 0.16 + 0.36 * bell(nm, 440, 70, 62)) },
  { name: 'deep sky', kind: 'sky', reflectance: over((nm) => 0.07 + 0.26 * bell(nm, 448, 60, 44)) },
  {
    name: 'evening sky',
    kind: 'sky',
    reflectance: over((nm) => 0.3 + 0.16 * rise(nm, 600, 25) + 0.12 * bell(nm, 440, 40)),
  },
  { name: 'canal water', kind: 'sky', reflectance: over((nm) => 0.06 + 0.13 * bell(nm, 510, 40, 44)) },
  { name: 'brick', kind: 'earth', reflectance: over((nm) => 0.05 + 0.27 * rise(nm, 588, 22)) },
  { name: 'oak', kind: 'earth', reflectance: over((nm) => 0.09 + 0.26 * rise(nm, 570, 42)) },

  { name: 'vermilion', kind: 'saturated', reflectance: over((nm) => 0.035 + 0.6 * rise(nm, 596, 9)) },
  { name: 'marigold', kind: 'saturated', reflectance: over((nm) => 0.04 + 0.66 * rise(nm, 538, 12)) },
  { name: 'leek green', kind: 'saturated', reflectance: over((nm) => 0.04 + 0.36 * bell(nm, 530, 30, 28)) },
  { name: 'turquoise', kind: 'saturated', reflectance: over((nm) => 0.06 + 0.38 * bell(nm, 495, 38, 34)) },
  {
    name: 'ultramarine',
    kind: 'saturated',
    reflectance: over((nm) => 0.03 + 0.32 * bell(nm, 450, 40, 24) + 0.07 * rise(nm, 690, 12)),
  },
  {
    name: 'mallow',
    kind: 'saturated',
    reflectance: over((nm) => 0.06 + 0.32 * bell(nm, 440, 40, 34) + 0.42 * rise(nm, 618, 14)),
  },

  { name: 'white', kind: 'grey', reflectance: grey(0.9) },
  { name: 'grey 1', kind: 'grey', reflectance: grey(0.59) },
  { name: 'grey 2', kind: 'grey', reflectance: grey(0.36) },
  { name: 'grey 3', kind: 'grey', reflectance: grey(0.198) },
  { name: 'grey 4', kind: 'grey', reflectance: grey(0.09) },
  { name: 'black', kind: 'grey', reflectance: grey(0.032) },
]

/** The patch that a white balance is taken from. */
export const NEUTRAL_PATCH = 19
