export {
  fits,
  made,
  READY_AREAS,
  READY_NEEDS,
  READY_STEPS,
  readySteps,
  type ReadyArea,
  type ReadySteps,
} from './areas'
export type { Scene, Thing, ToneSpread } from './scene'
