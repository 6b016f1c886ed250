import {
  AppendSchema,
  FramesSchema,
  IdSchema,
  NewVersionSchema,
  VersionChangeSchema,
  VersionViewSchema,
  type FramePage,
} from '@dunkelkammer/contract'
import express, { type Request } from 'express'
import type { Services } from '../services'
import { jsonBody } from './bodies'
import { idOf } from './requests'

/** Most bytes of operations that are sent at once. */
const MAX_APPEND = 4 << 20
/** Entries of a log on one page. */
const PAGE = 500

/** A frame with its versions. */
export function framePage({ frames, versions }: Services, id: string): FramePage {
  const { frame, shown } = frames.get(id)
  return { frame, versions: versions.of(id), removed: versions.removed(id), shown }
}

const numberIn = (text: unknown, otherwise: number) => {
  const n = Number(text ?? otherwise)
  return Number.isFinite(n) ? n : otherwise
}

const placeOf = (request: Request) =>
  request.params.entry === 'begun' ? null : IdSchema.parse(request.params.entry)

/** Versions of frames, and their logs. */
export function versionRoutes(services: Services): express.Router {
  const { versions } = services
  const router = express.Router()
  const json = jsonBody()

  router.get('/frames/:id', (q, s) => void s.json(framePage(services, idOf(q))))
  router.post('/frames/:id/versions', json, (q, s) => {
    s.status(201).json(versions.add(idOf(q), NewVersionSchema.parse(q.body)))
  })
  router.put('/frames/:id/versions/order', json, (q, s) => {
    versions.order(idOf(q), FramesSchema.parse(q.body).ids)
    s.json(framePage(services, idOf(q)))
  })
  router.get('/versions/:id', (q, s) => void s.json(versions.get(idOf(q))))
  router.patch('/versions/:id', json, (q, s) => {
    const { name } = VersionChangeSchema.parse(q.body)
    s.json(name === undefined ? versions.get(idOf(q)) : versions.rename(idOf(q), name))
  })
  router.delete('/versions/:id', (q, s) => {
    versions.remove(idOf(q))
    s.json({ ok: true })
  })
  router.post('/versions/:id/take-back', (q, s) => void s.json(versions.takeBack(idOf(q))))
  router.post('/versions/:id/show', (q, s) => {
    versions.show(idOf(q))
    s.json({ ok: true })
  })
  router.put('/versions/:id/view', json, (q, s) => {
    versions.setView(idOf(q), VersionViewSchema.parse(q.body))
    s.json({ ok: true })
  })
  router.post('/versions/:id/log', jsonBody(MAX_APPEND), (q, s) => {
    s.json(versions.append(idOf(q), AppendSchema.parse(q.body)))
  })
  router.get('/versions/:id/log', (q, s) => {
    const before = numberIn(q.query.before, Number.MAX_SAFE_INTEGER)
    s.json(versions.log(idOf(q), before, PAGE))
  })
  router.get('/versions/:id/log/:entry', (q, s) => void s.json(versions.at(idOf(q), placeOf(q))))
  return router
}
