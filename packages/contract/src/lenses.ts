import { LensProfileSchema, PROFILE_ORIGINS } from '@dunkelkammer/core'
import { z } from 'zod'

/** A lens profile without its measurements. */
export const LensSummarySchema = z.object({
  id: z.string(),
  origin: z.enum(PROFILE_ORIGINS),
  maker: z.string(),
  model: z.string(),
  mounts: z.array(z.string()),
  /** Of the camera that it was measured with. */
  crop: z.number(),
  /** Millimetres. */
  focalFrom: z.number(),
  focalTo: z.number(),
})
export type LensSummary = z.infer<typeof LensSummarySchema>
/** What a search found: the first of them, how many there are, and how many in all. */
export const LensListSchema = z.object({
  lenses: z.array(LensSummarySchema),
  count: z.number(),
  all: z.number(),
  /** Whether a database on this machine could be imported. */
  installed: z.boolean(),
})
export const LensIdSchema = z.string().min(1).max(80)
/** Camera and lens as a frame's file names them, or one profile. */
export const LensWishSchema = z.strictObject({
  profile: LensIdSchema.optional(),
  make: z.string().max(300).optional(),
  model: z.string().max(300).optional(),
  lens: z.string().max(300).optional(),
  focal: z.number().optional(),
  crop: z.number().optional(),
})
export const LensAnswerSchema = z.object({
  id: z.string(),
  profile: LensProfileSchema,
  crop: z.number().optional(),
})
export const LensFoundSchema = z.object({ found: LensAnswerSchema.optional() })
export const LensImportedSchema = z.object({
  lenses: z.number(),
  cameras: z.number(),
  /** Measurements by formulas that are not known. */
  leftOut: z.number(),
  problems: z.array(z.string()),
})
export type LensImported = z.infer<typeof LensImportedSchema>
