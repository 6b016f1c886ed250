import type { StageId } from '../steps/step'
import { startDevelopment, type Development } from './development'

const START = startDevelopment()

/** With sign and no more digits than needed: the stage line is narrow. */
const signed = (v: number, digits: number) =>
  `${v > 0 ? '+' : v < 0 ? '\u2212' : ''}${Number(Math.abs(v).toFixed(digits))}`

/** One line for the stage line: what a stage does to the picture, empty where nothing. */
export function stageSummary(stage: StageId, { steps }: Development): string {
  const parts: string[] = []
  if (stage === 'expose') {
    if (steps.exposure.ev !== 0) parts.push(`${signed(steps.exposure.ev, 2)} EV`)
    if (steps.baseRendering.grade !== START.steps.baseRendering.grade)
      parts.push(`grade ${steps.baseRendering.grade.toFixed(1)}`)
    if (steps.highlights.rebuild !== START.steps.highlights.rebuild)
      parts.push(`highlights ${Math.round(steps.highlights.rebuild * 100)} %`)
    if (steps.baseRendering.rendering === 'file') parts.push('by the file')
  }
  if (stage === 'balance') {
    const { source, kelvin, tint } = steps.cameraColour
    if (source === 'kelvin') parts.push(`${Math.round(kelvin)} K, tint ${signed(Math.round(tint), 0)}`)
    if (source === 'sample') parts.push('grey picked')
    if (steps.cameraColour.profile === 'file') parts.push('file’s tables')
  }
  if (stage === 'refine') {
    if (!steps.defects.mend) parts.push('defects left')
    else if (steps.defects.threshold !== START.steps.defects.threshold)
      parts.push(`defects at ${steps.defects.threshold.toFixed(1)}`)
    if (!steps.greenBalance.even) parts.push('greens as read')
    if (steps.demosaic.falseColour !== START.steps.demosaic.falseColour)
      parts.push(`false colour ${Math.round(steps.demosaic.falseColour * 100)} %`)
  }
  return parts.join(', ')
}
