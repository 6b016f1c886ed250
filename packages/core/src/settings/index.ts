export * from './development'
export * from './departs'
export * from './summary'
