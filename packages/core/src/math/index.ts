export * from './matrix'
export * from './sampling'
export * from './scalar'
export * from './spline'
