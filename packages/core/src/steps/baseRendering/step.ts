import { oklabBlock, working } from '../../colour'
import { identity } from '../../math'
import { defineStep, planeLength, planes } from '../step'
import { curveBlock, renderingCurve } from './curve'
import { BaseRenderingSchema, type BaseRenderingSettings } from './schema'

interface Prepared {
  curve: number[]
  lab: number[]
}

/**
 * Scene light to display light. The colour's size (its contraharmonic mean, which for grey is the grey) goes
 * through a sigmoid around mid grey as photoreceptors' does (Naka and Rushton 1966); the ratios of the channels
 * stay, so that hue does not turn with exposure. The brightest give up their chroma to white at constant Oklab hue.
 */
export const baseRendering = defineStep<BaseRenderingSettings, Prepared>({
  id: 'baseRendering',
  stage: 'expose',
  schema: BaseRenderingSchema,
  neutral: { grade: 2 },
  essential: true,
  keep: false,
  yields: 'display',
  reach: () => 0,
  prepare: ({ grade }) => ({
    curve: curveBlock(renderingCurve(grade)),
    lab: oklabBlock(working, working, identity),
  }),
  run({ raster, kernels, scratch }, { curve, lab }) {
    const mark = scratch.mark()
    kernels.render_base(...planes(raster), planeLength(raster), scratch.floats(curve), scratch.floats(lab))
    scratch.release(mark)
  },
})
