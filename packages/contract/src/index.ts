/** What the server and the web application say to each other, under `/api`. */

export * from './basics'
export * from './deliveries'
export * from './frames'
export * from './jobs'
export * from './lenses'
export * from './library'
export * from './looks'
export * from './presets'
export { filled, type NamesIn, type Route } from './route'
export * from './routes'
export * from './shoots'
export * from './versions'
