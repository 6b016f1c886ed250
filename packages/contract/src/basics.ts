import { z } from 'zod'

export const IdSchema = z.uuid()
export const NameSchema = z.string().trim().min(1, 'a name is needed').max(300, 'at most 300 characters')
