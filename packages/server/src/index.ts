export { createApp } from './http/app'
export { openServices, type Services } from './services'
