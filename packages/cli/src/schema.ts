import { DevelopmentSchema } from '@dunkelkammer/core'
import { z } from 'zod'

/** Prints the JSON Schema of a settings file. */
export function settingsSchema(): void {
  console.log(JSON.stringify(z.toJSONSchema(DevelopmentSchema, { io: 'input' }), null, 2))
}
