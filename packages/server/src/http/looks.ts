import { FILES, LensIdSchema, ROUTES } from '@dunkelkammer/contract'
import express, { type Request } from 'express'
import { z } from 'zod'
import { MAX_LENS_XML } from '../lenses/lenses'
import { MAX_LOOK } from '../library/looks'
import type { Services } from '../services'
import { textBody } from './bodies'
import { FOR_GOOD } from './files'
import { serving } from './serve'

const textOf = ({ body }: Request): string => (typeof body === 'string' ? body : '')

/** Looks and lens profiles of the library, and how new frames begin. */
export function lookRoutes({ looks, lenses, newFrames }: Services): express.Router {
  const router = express.Router()
  const serve = serving(router)

  serve(ROUTES.looks, () => looks.list())
  serve(
    ROUTES.addTable,
    ({ query, request }) => looks.addTable(query.name, textOf(request)),
    textBody(MAX_LOOK),
  )
  serve(ROUTES.addRecipe, ({ body: { name, recipe } }) => looks.addRecipe(name, recipe))
  router.get(FILES.lookTable, async (q, s) => {
    s.type('text/plain').set('Cache-Control', FOR_GOOD)
    s.send(await looks.table(q.params.id))
  })
  serve(ROUTES.removeLook, ({ params }) => {
    looks.remove(z.string().max(80).parse(params.id))
    return { ok: true }
  })
  serve(ROUTES.newFrames, () => newFrames.rules)
  serve(ROUTES.setNewFrames, ({ body }) => (newFrames.rules = body))

  serve(ROUTES.lenses, ({ query }) => ({ ...lenses.list(query.search), installed: lenses.hasInstalled }))
  serve(ROUTES.addLens, ({ body }) => lenses.add(body))
  serve(ROUTES.findLens, ({ body }) => ({ found: lenses.find(body) }))
  serve(
    ROUTES.importLenses,
    ({ query, request }) => lenses.importText(textOf(request), query.name),
    textBody(MAX_LENS_XML),
  )
  serve(ROUTES.importInstalledLenses, () => lenses.importInstalled())
  serve(ROUTES.lens, ({ params }) => lenses.get(LensIdSchema.parse(params.id)))
  serve(ROUTES.removeLens, ({ params }) => {
    lenses.remove(LensIdSchema.parse(params.id))
    return { ok: true }
  })
  return router
}
