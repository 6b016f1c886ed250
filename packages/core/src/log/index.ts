export * from './entries'
export * from './operations'
