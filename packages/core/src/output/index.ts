export * from './target'
export * from './resample'
