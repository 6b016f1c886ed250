import { oklabBlock, working } from '../../colour'
import { exp2, identity, pow, type Triple } from '../../math'
import { defineStep, planeLength, planes } from '../step'
import { MonochromeSchema, type LensFilter, type MonochromeSettings } from './schema'

/** Wavelengths of the working space's primaries (ITU-R BT.2020), nm, and half the band that each stands for. */
const BANDS: Triple = [630, 532, 467]
const HALF_BAND = 30

const logistic = (x: number) => 1 / (1 + exp2(-x * 1.4426950408889634))
/** A glass that lets through what lies above (or below) an edge, as steep as its dye. */
const edge = (at: number, steep: number) => (nm: number) => 0.03 + 0.94 * logistic((nm - at) / steep)

/**
 * Transmission of the filters by wavelength: simplified curves of our own, two for a band. What they do to the
 * working space is their mean over each primary's band.
 */
const GLASS: Record<Exclude<LensFilter, 'none'>, (nm: number) => number> = {
  yellow: edge(490, 12),
  orange: edge(545, 12),
  red: edge(595, 10),
  green: (nm) => edge(495, 14)(nm) * (1 - 0.85 * logistic((nm - 590) / 14)),
  blue: (nm) => 1 - 0.94 * logistic((nm - 505) / 14),
}

/** Share of each primary's light that a filter lets through. */
export function transmission(filter: LensFilter, density: number): Triple {
  if (filter === 'none') return [1, 1, 1]
  return BANDS.map((centre) => {
    let sum = 0
    for (let nm = centre - HALF_BAND; nm <= centre + HALF_BAND; nm += 5)
      sum += pow(GLASS[filter](nm), density)
    return sum / ((2 * HALF_BAND) / 5 + 1)
  }) as unknown as Triple
}

/** What each linear channel adds to the grey; together 1, as if exposed longer for the filter. */
export function greyMixture({ filter, density }: MonochromeSettings): Triple {
  const through = transmission(filter, density)
  const weights = working.toXyz.slice(3, 6).map((y, i) => y * through[i])
  const sum = weights[0] + weights[1] + weights[2]
  return [weights[0] / sum, weights[1] / sum, weights[2] / sum]
}

/** Colours to greys by their light behind a filter; what the hue nodes made lighter or darker stays so. */
export const monochrome = defineStep({
  id: 'monochrome',
  name: 'Monochrome',
  says: ({ filter }) => (filter === 'none' ? 'monochrome' : `monochrome, ${filter} filter`),
  stage: 'balance',
  schema: MonochromeSchema,
  neutral: { on: false, filter: 'none', density: 1 },
  essential: false,
  keep: false,
  takes: 'picture',
  yields: 'display',
  colours: 'oklab',
  idle: ({ on }) => !on,
  reach: () => 0,
  prepare: (settings) => ({ lab: oklabBlock(working, working, identity), mixture: greyMixture(settings) }),
  run({ raster, kernels, scratch }, { lab, mixture }) {
    const mark = scratch.mark()
    kernels.mix_grey(...planes(raster), planeLength(raster), scratch.floats(lab), scratch.floats(mixture))
    scratch.release(mark)
  },
})
