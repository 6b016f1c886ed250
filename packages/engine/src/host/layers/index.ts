import { makePlan, withApart, type Development, type OutputSpace, type Plan } from '@dunkelkammer/core'
import type { Framed as Frame } from '../framing'
import { Developed } from './developed'
import { Framed } from './framed'
import type { Releasable } from '../resources'
import type { Ground } from './ground'
import { MaskMaps } from './maskMaps'
import { Masks } from './masks'
import { Mended } from './mended'
import { Overview } from './overview'
import { Reduced } from './reduced'
import { Shown } from './shown'
import { Sketch } from './sketch'
import { Staged } from './staged'
import { Surveys } from './surveys'

/**
 * A picture as a stack of layers from the sensor to the screen. Each gives what is asked of it on demand, from the one
 * below, and keeps what is worth keeping in the section of its picture.
 */
export class Layers {
  readonly developed: Developed
  readonly mended: Mended
  readonly reduced: Reduced
  readonly overview: Overview
  readonly surveys: Surveys
  readonly framed: Framed
  readonly staged: Staged
  readonly shown: Shown
  readonly masks: Masks
  readonly maskMaps: MaskMaps

  constructor(readonly ground: Ground) {
    const sketch = new Sketch(ground)
    this.developed = new Developed(ground, (plan, held) => this.maskMaps.onSensor(plan, held))
    this.mended = new Mended(ground, this.developed)
    this.reduced = new Reduced(ground, this.mended, sketch)
    this.overview = new Overview(ground, this.developed, sketch)
    this.surveys = new Surveys(ground, this.overview)
    this.framed = new Framed(ground, this.reduced)
    this.staged = new Staged(ground)
    this.shown = new Shown(ground)
    this.masks = new Masks(ground)
    this.maskMaps = new MaskMaps(ground, this.masks, this.overview)
  }

  /**
   * What to compute for a development, and the frame it shows.
   * @param held the maps of masks are made and put here, to be released after use; none are where it is missing
   * @throws RawError where a chosen lens profile, or what was painted for a patch, cannot be had
   */
  async planned(
    development: Development,
    space: OutputSpace = 'srgb',
    held?: Releasable[],
  ): Promise<{ plan: Plan; framed: Frame }> {
    const made = makePlan(development, space)
    const [framed, plan] = await Promise.all([
      this.ground.framing.of(made),
      this.masks.resolved(made),
      this.mended.know(made.patches),
    ])
    const whole = framed.apart ? withApart(plan, framed.apart) : plan
    return { plan: held ? await this.maskMaps.plan(whole, framed, held) : whole, framed }
  }
}
