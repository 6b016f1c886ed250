import type { Layers } from '../layers'
import { dust } from './dust'
import { fill } from './fill'
import { found, regionAt } from './found'
import { fringes } from './fringes'
import { lines, trace } from './lines'
import { areaAt, mask, maskLayer } from './mask'
import { noise } from './noise'
import { lightBefore, read } from './read'
import { sample } from './sample'
import { hues, small } from './small'
import { scene } from './scene'
import { softness } from './softness'
import { sources } from './sources'
import { table } from './table'
import { toneSpread } from './toneSpread'
import { wire } from './wire'

/** All that can be asked about a picture. */
export const QUESTIONS = {
  sample,
  read,
  lightBefore,
  small,
  hues,
  table,
  lines,
  trace,
  fringes,
  softness,
  noise,
  sources,
  fill,
  dust,
  wire,
  mask,
  maskLayer,
  areaAt,
  found,
  regionAt,
  scene,
  toneSpread,
} as const satisfies Record<string, (layers: Layers, ...args: never[]) => unknown>

export type Question = keyof typeof QUESTIONS
export type Asked<Q extends Question> =
  Parameters<(typeof QUESTIONS)[Q]> extends [Layers, ...infer A] ? A : never
export type Answer<Q extends Question> = ReturnType<(typeof QUESTIONS)[Q]>
