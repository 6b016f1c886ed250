export * from './raster'
export * from './arena'
export * from './scratch'
