import { z } from 'zod'

export const IdSchema = z.uuid()
export const NameSchema = z.string().trim().min(1, 'a name is needed').max(300, 'at most 300 characters')

/** How many something was done to. */
export const CountSchema = z.object({ count: z.number() })
export const OkSchema = z.object({ ok: z.boolean() })

export const ProblemSchema = z.object({ code: z.string(), message: z.string() })
export type Problem = z.infer<typeof ProblemSchema>
