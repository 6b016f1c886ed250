import { DevelopmentSchema, FIELD_WORDS } from '@dunkelkammer/core'
import { z } from 'zod'
import { print } from './output'

/** Prints the JSON Schema of a settings file. */
export function settingsSchema(): void {
  print(JSON.stringify(z.toJSONSchema(DevelopmentSchema, { io: 'input', metadata: FIELD_WORDS }), null, 2))
}
