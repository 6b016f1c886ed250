import { DeliverySchema } from '@dunkelkammer/core'
import { z } from 'zod'
import { IdSchema } from './basics'
import { PresetIdSchema } from './presets'

/** Saved deliveries, and what is made by them. */

export const SavedDeliverySchema = z.object({ id: IdSchema, delivery: DeliverySchema })
export type SavedDelivery = z.infer<typeof SavedDeliverySchema>

/** Most files that one job makes. */
export const MOST_FILES = 50_000

export const NewFilesSchema = z.strictObject({
  /** The name that it is asked for under: asked for again, it is the same job. */
  id: IdSchema.optional(),
  frames: z
    .array(
      z.strictObject({
        id: IdSchema,
        /** The one that stands for the frame where missing. */
        versionId: IdSchema.optional(),
      }),
    )
    .min(1)
    .max(10_000),
  deliveries: z.array(DeliverySchema).min(1).max(20),
  /** For these files only; the versions stay as they are. */
  presets: z
    .array(z.strictObject({ id: PresetIdSchema, strength: z.number().min(0).max(1.5).default(1) }))
    .max(20)
    .default([]),
})
export type NewFiles = z.input<typeof NewFilesSchema>

/** What is asked of the size of one frame's files. */
export const WantedEstimateSchema = NewFilesSchema.pick({ deliveries: true, presets: true }).extend({
  frame: NewFilesSchema.shape.frames.element,
})
export const EstimateSchema = z.object({
  /** By delivery. */
  bytes: z.array(z.number()),
  /** Of all of them, while nobody else is at work. */
  seconds: z.number(),
})
export type WantedEstimate = z.input<typeof WantedEstimateSchema>
export type Estimate = z.infer<typeof EstimateSchema>

export const FILE_STATES = ['waiting', 'making', 'placing', 'done', 'skipped', 'failed'] as const

/** One file of a job: one delivery of one frame. */
export const MadeFileSchema = z.object({
  number: z.number(),
  frameId: IdSchema,
  /** Name of the frame's original; what it was called where the frame is no more. */
  frameName: z.string(),
  shootId: IdSchema.optional(),
  versionId: IdSchema,
  delivery: z.string(),
  state: z.enum(FILE_STATES),
  /** Where the file is, or is to be. */
  path: z.string().optional(),
  bytes: z.number().optional(),
  width: z.number().optional(),
  height: z.number().optional(),
  message: z.string().optional(),
})
export type MadeFile = z.infer<typeof MadeFileSchema>

export const ExpectedFileSchema = z.object({
  frameId: IdSchema,
  frameName: z.string(),
  delivery: z.number(),
  /** Where it would be written. */
  path: z.string(),
  /** A file of that name is there, or another file of the same job has it. */
  taken: z.boolean(),
  /** Why it cannot be made, as a sentence. */
  problem: z.string().optional(),
})
export type ExpectedFile = z.infer<typeof ExpectedFileSchema>

export const ExpectedFilesSchema = z.object({
  files: z.array(ExpectedFileSchema),
  /** Bytes that are free where files go, the least where they go to several disks. */
  free: z.number().optional(),
})
export type ExpectedFiles = z.infer<typeof ExpectedFilesSchema>

/** A file that was given to another program, and what came back of it. */
export const HandedOverSchema = z.object({
  id: IdSchema,
  frameId: IdSchema,
  /** Name of the frame's original. */
  frameName: z.string(),
  shootId: IdSchema,
  delivery: z.string(),
  /** The program that it was given to; whoever watches the folder where missing. */
  program: z.string().optional(),
  path: z.string(),
  given: z.string(),
  /** Frames that came back. */
  back: z.number(),
  /** What went wrong last, as a sentence. */
  problem: z.string().optional(),
})
export type HandedOver = z.infer<typeof HandedOverSchema>
