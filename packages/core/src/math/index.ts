export * from './matrix'
export * from './scalar'
