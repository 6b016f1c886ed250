import { IdSchema } from '@dunkelkammer/contract'
import type { Request } from 'express'

/** The id in a request's address. @throws z.ZodError where it is none */
export const idOf = (request: Request): string => IdSchema.parse(request.params.id)
