import { FILES, IdSchema, ROUTES, type FramePage } from '@dunkelkammer/contract'
import { BulkNameSchema, MOST_BULK } from '@dunkelkammer/core'
import express from 'express'
import type { Services } from '../services'
import { rawBody } from './bodies'
import { FOR_GOOD } from './files'
import { serving } from './serve'

/** Entries of a log on one page. */
const PAGE = 500

/** A frame with its versions. */
function framePage({ frames, versions }: Services, id: string): FramePage {
  const { frame, shown } = frames.get(id)
  return { frame, versions: versions.of(id), removed: versions.removed(id), shown }
}

/** Versions of frames, and their logs. */
export function versionRoutes(services: Services): express.Router {
  const { versions, bulk } = services
  const router = express.Router()
  const serve = serving(router)

  serve(ROUTES.frame, ({ id }) => framePage(services, id))
  serve(ROUTES.addVersion, ({ id, body }) => versions.add(id, body))
  serve(ROUTES.orderVersions, ({ id, body }) => {
    versions.order(id, body.ids)
    return framePage(services, id)
  })
  serve(ROUTES.version, ({ id }) => versions.get(id))
  serve(ROUTES.changeVersion, ({ id, body: { name } }) =>
    name === undefined ? versions.get(id) : versions.rename(id, name),
  )
  serve(ROUTES.removeVersion, ({ id }) => {
    versions.remove(id)
    return { ok: true }
  })
  serve(ROUTES.takeVersionBack, ({ id }) => versions.takeBack(id))
  serve(ROUTES.showVersion, ({ id }) => {
    versions.show(id)
    return { ok: true }
  })
  serve(ROUTES.setVersionView, ({ id, body }) => {
    versions.setView(id, body)
    return { ok: true }
  })
  serve(ROUTES.appendToLog, ({ id, body }) => versions.append(id, body))
  serve(ROUTES.log, ({ id, query }) => versions.log(id, query.before, PAGE))
  serve(ROUTES.logAt, ({ id, params: { entry } }) =>
    versions.at(id, entry === 'begun' ? null : IdSchema.parse(entry)),
  )
  serve(
    ROUTES.putBulk,
    ({ params, request }) => {
      const body: unknown = request.body
      bulk.put(BulkNameSchema.parse(params.name), Buffer.isBuffer(body) ? body : new Uint8Array())
      return { ok: true }
    },
    rawBody(MOST_BULK),
  )
  router.get(FILES.bulk, (q, s) => {
    const bytes = bulk.get(BulkNameSchema.parse(q.params.name))
    s.type('application/octet-stream').set('Cache-Control', FOR_GOOD)
    s.send(Buffer.from(bytes))
  })
  return router
}
