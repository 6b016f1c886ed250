import { IdSchema, type NamesIn, type Route } from '@dunkelkammer/contract'
import type { Request, RequestHandler, Router } from 'express'
import type { z } from 'zod'
import { jsonBody } from './bodies'

/** A request as a handler gets it: checked against the route that it came by. */
export interface Asked<P extends string, B extends z.ZodType, Q extends z.ZodType> {
  /** The id in the address. @throws z.ZodError where it is none */
  readonly id: string
  params: Readonly<Record<NamesIn<P>, string>>
  body: z.output<B>
  query: z.output<Q>
  request: Request
}

/** The id in a request's address. @throws z.ZodError where it is none */
export const idOf = (request: Request): string => IdSchema.parse(request.params.id)

/**
 * Answers routes of the contract on a router.
 * @returns a function that takes a route, what answers it, and for bodies that are no JSON what reads them
 */
export const serving =
  (router: Router) =>
  <P extends string, A extends z.ZodType, B extends z.ZodType, Q extends z.ZodType>(
    route: Route<P, A, B, Q>,
    answer: (asked: Asked<P, B, Q>) => z.output<A> | Promise<z.output<A>>,
    read?: RequestHandler,
  ): void => {
    const readers = read ? [read] : route.body ? [jsonBody(route.most)] : []
    const method = route.method.toLowerCase() as 'get' | 'post' | 'put' | 'patch' | 'delete'
    router[method](route.path as string, ...readers, async (request: Request, response) => {
      const asked: Asked<P, B, Q> = {
        get id() {
          return idOf(request)
        },
        params: request.params as Asked<P, B, Q>['params'],
        body: (route.body?.parse(request.body) ?? undefined) as z.output<B>,
        query: (route.query?.parse(request.query) ?? undefined) as z.output<Q>,
        request,
      }
      response.status(route.status).json(await answer(asked))
    })
  }
