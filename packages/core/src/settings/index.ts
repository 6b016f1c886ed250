export * from './development'
export * from './summary'
