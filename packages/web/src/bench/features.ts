import { balance } from './balance/feature'
import { before } from './before/feature'
import { clipping } from './clipping/feature'
import { deliver } from './deliver/feature'
import { expose } from './expose/feature'
import { finish } from './finish/feature'
import { history } from './history/feature'
import { layout } from './layout/feature'
import { looks } from './looks/feature'
import { many } from './many/feature'
import { mend } from './mend/feature'
import { presets } from './presets/feature'
import { proof } from './proof/feature'
import { readings } from './readings/feature'
import { refine } from './refine/feature'
import { shape } from './shape/feature'
import { square } from './square/feature'
import type { Feature } from './state/types'
import { tone } from './tone/feature'
import { versions } from './versions/feature'

/** All that the bench can do, in the order of its places. */
export const FEATURES: readonly Feature[] = [
  layout,
  before,
  square,
  expose,
  balance,
  looks,
  refine,
  mend,
  shape,
  finish,
  proof,
  readings,
  clipping,
  tone,
  history,
  presets,
  many,
  versions,
  deliver,
]
