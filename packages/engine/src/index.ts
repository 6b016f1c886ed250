export { Engine } from './host/engine'
export { Superseded } from './host/pool'
export type { Picture } from './host/picture'
export type { Keeper } from './host/keeper'
export type { DeliverRequest } from './host/finished'
export type { NoiseFinding } from './host/questions/noise'
export type { View, ViewRequest } from './host/view'
export type { Progress } from './host/progress'
export { matchEmbedded } from './host/matchEmbedded'
export { automatic, AUTOMATICS, type Automatic } from './host/automatic'
export { foundAnew } from './host/foundAnew'
export {
  lightOf,
  matchLight,
  standingLight,
  withLight,
  type LightMatch,
  type MatchedBy,
  type PictureLight,
} from './host/matchLight'
export * from './host/sizes'
export {
  adapt,
  identify,
  hasKnownEnding,
  sidecarAmong,
  sidecarPlace,
  ENDINGS,
  FORMATS,
  type Adapted,
  type FormatId,
} from './formats'
export type { BulkSource, TableSource } from './host/resources'
export type { LensAnswer, LensFinding, LensSource, LensWish } from './host/lenses'
export * from './host/squaring'
export { matchLens, shippedLens, wordsOf, type CameraRow, type LensRow } from './host/matchLens'
