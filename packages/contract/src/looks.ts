import { LookSchema, RecipeSchema } from '@dunkelkammer/core'
import { z } from 'zod'
import { NameSchema } from './basics'
import { PresetIdSchema } from './presets'

const IsoSchema = z.number().int().min(1).max(10000000)

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

/** A preset that new frames begin with. */
export const RulePresetSchema = z.strictObject({
  preset: PresetIdSchema,
  /** 0 to 1.5. */
  strength: z.number().min(0).max(1.5).default(1),
  /** Where said, it holds at this ISO, and between two of them what lies between them. */
  iso: IsoSchema.optional(),
})
export type RulePreset = z.infer<typeof RulePresetSchema>

/** With what new frames begin: the first rule that a frame meets counts. */
export const NewFrameRuleSchema = z.strictObject({
  /** Part of the camera's name; any camera where missing. */
  camera: z.string().trim().max(120).optional(),
  /** Part of the lens's name; any lens where missing. */
  lens: z.string().trim().max(120).optional(),
  isoFrom: IsoSchema.optional(),
  isoTo: IsoSchema.optional(),
  look: LookSchema,
  /** In this order, after the look. */
  presets: z.array(RulePresetSchema).max(12).default([]),
})
export type NewFrameRule = z.infer<typeof NewFrameRuleSchema>
export const NewFramesSchema = z.strictObject({
  rules: z.array(NewFrameRuleSchema).max(30).default([]),
  /** Whether new frames begin with what is known of their lens. */
  lens: z.enum(['off', 'automatic']).default('off'),
})
export type NewFrames = z.infer<typeof NewFramesSchema>
