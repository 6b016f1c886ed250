export * from './target'
export * from './resample'
export * from './delivery'
export * from './cube'
