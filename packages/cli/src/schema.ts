import { DeliverySchema, DevelopmentSchema, FIELD_WORDS, PresetFileSchema } from '@dunkelkammer/core'
import { z } from 'zod'
import { print } from './output'

const SCHEMAS = {
  settings: DevelopmentSchema,
  preset: PresetFileSchema,
  delivery: DeliverySchema,
} as const
export type Described = keyof typeof SCHEMAS

export const isDescribed = (word: string | undefined): word is Described =>
  word !== undefined && Object.hasOwn(SCHEMAS, word)

/** Prints the JSON Schema of a settings file, a preset or a delivery. */
export function printSchema(of: Described): void {
  print(JSON.stringify(z.toJSONSchema(SCHEMAS[of], { io: 'input', metadata: FIELD_WORDS }), null, 2))
}
