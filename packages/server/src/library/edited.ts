import { readDevelopment, startDevelopment, type Development } from '@dunkelkammer/core'

const START = startDevelopment()
const START_TEXT = JSON.stringify(START)

/** Settings as stored; most versions begin with the same ones, which need not be checked each time. */
export const readStored = (stored: unknown): Development =>
  JSON.stringify(stored) === START_TEXT ? START : readDevelopment(stored)

/** Whether settings are nothing but the base rendering. */
export const isStart = (development: Development): boolean => JSON.stringify(development) === START_TEXT

/** Whether settings are others than what the frame began with. */
export function isEdited(begun: Development, development: Development): boolean {
  const text = JSON.stringify(development)
  return text !== START_TEXT && text !== JSON.stringify(begun)
}
