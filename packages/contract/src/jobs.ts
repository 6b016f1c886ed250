import { DeliveryOptionsSchema } from '@dunkelkammer/core'
import { z } from 'zod'
import { IdSchema } from './basics'

/** Work that the server does in its own time. */

/** Most bytes of a delivery's name without ending. */
export const MAX_NAME_BYTES = 230

export const NewExportSchema = z.strictObject({
  versionId: IdSchema,
  options: DeliveryOptionsSchema,
  /** What of the frame's metadata goes into the file. */
  carry: z.enum(['all', 'no position', 'nothing']).default('all'),
  /** Without ending; the format's is added. */
  fileName: z
    .string()
    .trim()
    .min(1, 'a name is needed')
    .refine(
      // with an ending and a number it has to fit into the 255 bytes that disks allow
      (n) => new TextEncoder().encode(n).length <= MAX_NAME_BYTES,
      `at most ${MAX_NAME_BYTES} bytes: a letter takes one to four`,
    )
    .refine(
      (n) => !/[/\\\p{Cc}]/u.test(n) && !n.startsWith('.'),
      'a name without slashes and not starting with a dot',
    ),
  /** What to do where the name is taken. */
  taken: z.enum(['ask', 'number', 'replace']).default('ask'),
})
export type NewExport = z.input<typeof NewExportSchema>

export const JOB_STATES = ['waiting', 'running', 'done', 'failed', 'cancelled', 'interrupted'] as const
export const JobSchema = z.object({
  id: IdSchema,
  kind: z.enum(['import', 'export', 'check', 'dust', 'areas', 'settings']),
  state: z.enum(JOB_STATES),
  title: z.string(),
  /** 0 to 1. */
  progress: z.number(),
  /** What happened, as a sentence. */
  message: z.string(),
  /** Single things that went wrong while the rest went on. */
  problems: z.array(z.string()),
  created: z.string(),
  /** Name of the file that an export made. */
  fileName: z.string().optional(),
  /** What it has made can be taken back. */
  takesBack: z.literal(true).optional(),
})
export type Job = z.infer<typeof JobSchema>
