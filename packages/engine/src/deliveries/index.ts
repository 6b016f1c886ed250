export * from './part'
export * from './run'
export { FileJournal } from './fileJournal'
export { numbered } from './place'
