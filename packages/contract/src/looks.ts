import { LookSchema, RecipeSchema } from '@dunkelkammer/core'
import { z } from 'zod'
import { NameSchema } from './basics'

/** A look that the user has brought or made. */
export const LookEntrySchema = z.object({
  id: z.string(),
  name: z.string(),
  kind: z.enum(['table', 'recipe']),
  recipe: RecipeSchema.optional(),
  created: z.string(),
})
export type LookEntry = z.infer<typeof LookEntrySchema>
export const NewRecipeSchema = z.strictObject({ name: NameSchema.max(120), recipe: RecipeSchema })

/** With which look new frames begin: the first rule that a frame meets counts. */
export const NewFrameRuleSchema = z.strictObject({
  /** Part of the camera's name; any camera where missing. */
  camera: z.string().trim().max(120).optional(),
  isoFrom: z.number().int().min(1).max(10000000).optional(),
  isoTo: z.number().int().min(1).max(10000000).optional(),
  look: LookSchema,
})
export type NewFrameRule = z.infer<typeof NewFrameRuleSchema>
export const NewFramesSchema = z.strictObject({
  rules: z.array(NewFrameRuleSchema).max(30).default([]),
  /** Whether new frames begin with what is known of their lens. */
  lens: z.enum(['off', 'automatic']).default('off'),
})
export type NewFrames = z.infer<typeof NewFramesSchema>
