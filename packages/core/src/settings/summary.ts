import { lampById } from '../colour'
import { departs } from '../pipeline/plan'
import type { StageId, StepId } from '../steps/step'
import { startDevelopment, type Development } from './development'

const START = startDevelopment()

/** With sign and no more digits than needed: the stage line is narrow. */
const signed = (v: number, digits: number) =>
  `${v > 0 ? '+' : v < 0 ? '\u2212' : ''}${Number(Math.abs(v).toFixed(digits))}`

const percent = (v: number) => `${Math.round(v * 100)} %`

/** One line for the stage line: what a stage does to the picture, empty where nothing. */
export function stageSummary(stage: StageId, development: Development): string {
  const { steps } = development
  const parts: string[] = []
  const acts = (id: StepId) => departs(id, development) && !development.off.includes(id)
  if (stage === 'square-up') {
    const { lens, level, perspective, crop } = steps
    if (acts('lens')) parts.push(lens.choice === 'hand' ? 'lens by hand' : 'lens')
    if (acts('fringes') || acts('edgeColour'))
      parts.push(steps.fringes.source === 'none' ? 'fringes left in' : 'fringes')
    if (acts('fallOff')) parts.push('fall-off')
    if (acts('level')) {
      if (level.angle !== 0) parts.push(`${signed(level.angle, 2)}\u00b0`)
      if (level.turns !== 0) parts.push('turned')
      if (level.mirror) parts.push('mirrored')
    }
    if (acts('perspective'))
      parts.push(perspective.tilt || perspective.swing || perspective.roll ? 'perspective' : 'reshaped')
    if (acts('crop')) parts.push(crop.rect ? 'cropped' : 'empty corners')
  }
  if (stage === 'expose') {
    if (steps.exposure.ev !== 0 && acts('exposure')) parts.push(`${signed(steps.exposure.ev, 2)} EV`)
    if (acts('baseRendering')) {
      const { grade, brightness, shoulder, toe, rendering } = steps.baseRendering
      if (grade !== START.steps.baseRendering.grade) parts.push(`grade ${grade.toFixed(1)}`)
      if (brightness !== 0) parts.push(`brightness ${signed(brightness, 2)}`)
      if (shoulder !== 0 || toe !== 0) parts.push('shoulder and toe')
      if (rendering === 'file') parts.push('by the file')
    }
    if (acts('tones')) parts.push('tones')
    if (acts('points')) parts.push('points')
    if (acts('recovery')) parts.push(`recovery ${percent(steps.recovery.amount)}`)
    if (acts('curve') || acts('rangeCurve')) parts.push('curve')
    if (acts('evenLighting')) parts.push('evened')
    if (steps.highlights.rebuild !== START.steps.highlights.rebuild)
      parts.push(`rebuild ${percent(steps.highlights.rebuild)}`)
  }
  if (stage === 'balance') {
    const { source, kelvin, tint, lamp, samples } = steps.cameraColour
    if (source === 'kelvin') parts.push(`${Math.round(kelvin)} K, tint ${signed(Math.round(tint), 0)}`)
    if (source === 'lamp') parts.push(lampById(lamp).label.toLowerCase())
    if (source === 'sample') parts.push(samples.length > 1 ? `${samples.length} greys` : 'grey picked')
    if (steps.cameraColour.profile === 'file') parts.push('file’s tables')
    if (acts('monochrome')) {
      const { filter } = steps.monochrome
      parts.push(filter === 'none' ? 'monochrome' : `monochrome, ${filter} filter`)
    }
    if (acts('look')) parts.push(steps.look.name)
    if (acts('colourfulness')) parts.push('colourfulness')
    if (acts('hueNodes')) parts.push('hues')
    if (acts('tints')) parts.push('tints')
    if (acts('primaries')) parts.push('primaries')
    if (acts('toning')) parts.push('toned')
  }
  if (stage === 'finish') {
    if (acts('edgeBurn')) parts.push(`edges ${signed(steps.edgeBurn.ev, 2)} EV`)
    if (acts('grain')) parts.push(`grain ${percent(steps.grain.strength)}`)
  }
  if (stage === 'refine') {
    const { noise, enlarge, sharpen, relief, haze } = steps
    if (acts('noise')) parts.push(noise.mode === 'automatic' ? 'noise' : `noise ${percent(noise.luminance)}`)
    if (acts('enlarge')) parts.push(`${enlarge.factor} ×`)
    if (acts('sharpen')) parts.push(`sharp ${percent(sharpen.amount)}`)
    if (acts('unsharp')) parts.push('unsharp mask')
    if (acts('relief'))
      parts.push([relief.fine, relief.medium, relief.broad].every((v) => v <= 0) ? 'softened' : 'relief')
    if (acts('haze')) parts.push(haze.strength > 0 ? 'haze taken' : 'haze added')
    if (!steps.defects.mend) parts.push('defects left')
    else if (steps.defects.threshold !== START.steps.defects.threshold)
      parts.push(`defects at ${steps.defects.threshold.toFixed(1)}`)
    if (!steps.greenBalance.even) parts.push('greens as read')
    if (steps.demosaic.falseColour !== START.steps.demosaic.falseColour)
      parts.push(`false colour ${Math.round(steps.demosaic.falseColour * 100)} %`)
  }
  return parts.join(', ')
}
