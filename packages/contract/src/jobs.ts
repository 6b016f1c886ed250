import { z } from 'zod'
import { IdSchema } from './basics'

/** Work that the server does in its own time. */

export const JOB_STATES = [
  'waiting',
  'running',
  'paused',
  'done',
  'failed',
  'cancelled',
  'interrupted',
] as const
export const JOB_KINDS = ['import', 'rebuild', 'deliver', 'check', 'dust', 'areas', 'settings'] as const
export const JobSchema = z.object({
  id: IdSchema,
  kind: z.enum(JOB_KINDS),
  state: z.enum(JOB_STATES),
  title: z.string(),
  /** 0 to 1. */
  progress: z.number(),
  /** What happened, as a sentence. */
  message: z.string(),
  /** Single things that went wrong while the rest went on. */
  problems: z.array(z.string()),
  created: z.string(),
  /** Name of the file, where the job has made one alone. */
  fileName: z.string().optional(),
  /** It can be held up and gone on with. */
  pauses: z.literal(true).optional(),
  /** What of it was not done can be tried again. */
  retries: z.literal(true).optional(),
  /** What it has made can be taken back. */
  takesBack: z.literal(true).optional(),
})
export type Job = z.infer<typeof JobSchema>
