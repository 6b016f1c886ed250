import { signed } from '../words'
import { oklabBlock, toneTable, working } from '../../colour'
import { identity } from '../../math'
import { inRomm, prepareTable, runTable, type PreparedTable } from '../fileRendering'
import { defineStep, planeLength, planes } from '../step'
import { gainsOf, renderingCurve, TABLE_TOP, whiteBlock } from './curve'
import { BaseRenderingSchema, type BaseRenderingSettings } from './schema'

interface Prepared {
  gains: Float32Array
  white: number[]
  lab: number[]
  /** The file's own look, and its tone curve in place of ours. */
  look?: PreparedTable
  tone?: number[]
}

const NEUTRAL: BaseRenderingSettings = { grade: 2, brightness: 0, shoulder: 0, toe: 0, rendering: 'own' }

/**
 * Scene light to display light. The colour's size (its contraharmonic mean, which for grey is the grey) goes
 * through a sigmoid around mid grey as photoreceptors' does (Naka and Rushton 1966); the ratios of the channels
 * stay, so that hue does not turn with exposure. The brightest give up their chroma to white at constant Oklab hue.
 * On demand the file's own look table and tone curve take its place.
 */
export const baseRendering = defineStep({
  id: 'baseRendering',
  name: 'Rendering',
  says: ({ grade, brightness, shoulder, toe, rendering }) => [
    ...(grade !== NEUTRAL.grade ? [`grade ${grade.toFixed(1)}`] : []),
    ...(brightness !== 0 ? [`brightness ${signed(brightness, 2)}`] : []),
    ...(shoulder !== 0 || toe !== 0 ? ['shoulder and toe'] : []),
    ...(rendering === 'file' ? ['from the file'] : []),
  ],
  stage: 'expose',
  schema: BaseRenderingSchema,
  neutral: NEUTRAL,
  essential: true,
  keep: false,
  takes: 'picture',
  yields: 'display',
  reach: () => 0,
  prepare({ grade, rendering, ...character }, { profile, referred }): Prepared {
    // a picture that was rendered before has its way to white behind it
    const gains = gainsOf(renderingCurve(grade, character))
    const own = {
      gains,
      white: whiteBlock(referred === 'scene'),
      lab: oklabBlock(working, working, identity),
    }
    if (rendering === 'own' || !profile) return own
    return {
      ...own,
      look: profile.look && prepareTable(profile.look),
      tone: profile.toneCurve && toneTable(profile.toneCurve),
    }
  },
  run(tile, { gains, white, lab, look, tone }) {
    const { raster, kernels, scratch } = tile
    const mark = scratch.mark()
    if (look) runTable(tile, look)
    if (tone)
      inRomm(tile, () => kernels.hue_curve(...planes(raster), planeLength(raster), scratch.floats(tone)))
    else
      kernels.render_base(
        ...planes(raster),
        planeLength(raster),
        scratch.floats(gains),
        gains.length,
        TABLE_TOP,
        scratch.floats(white),
        scratch.floats(lab),
      )
    scratch.release(mark)
  },
})
