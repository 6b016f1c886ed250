export { Engine } from './host/engine'
export { Superseded } from './host/pool'
export type { DeliverRequest, Picture, Progress, View, ViewRequest } from './host/picture'
export * from './host/sizes'
