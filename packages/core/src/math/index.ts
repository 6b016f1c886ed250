export * from './matrix'
export * from './scalar'
export * from './spline'
