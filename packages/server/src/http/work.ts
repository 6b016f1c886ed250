import { ROUTES } from '@dunkelkammer/contract'
import express from 'express'
import { LightMatcher } from '../jobs/lightMatcher'
import { startSettings } from '../jobs/startSettings'
import { takeMadeBack } from '../jobs/takeBack'
import { notFound } from '../problem'
import type { Services } from '../services'
import { serving } from './serve'

/** Work that is done in the server's own time. */
export function workRoutes(services: Services): express.Router {
  const { frames, versions, jobs } = services
  const router = express.Router()
  const serve = serving(router)
  const lights = new LightMatcher(services)

  serve(ROUTES.jobs, () => jobs.list())
  serve(ROUTES.job, ({ id }) => jobs.get(id))
  serve(ROUTES.cancelJob, ({ id }) => jobs.cancel(id))
  serve(ROUTES.pauseJob, ({ id }) => jobs.pause(id))
  serve(ROUTES.continueJob, ({ id }) => jobs.continue(id))
  serve(ROUTES.mendDust, ({ body: { ids } }) => {
    const rows = frames.rows(ids)
    if (rows.length < new Set(ids).size) throw notFound('frame')
    const title = rows.length === 1 ? `Dust in ${rows[0].fileName}` : `Dust in ${rows.length} frames`
    return jobs.add('dust', title, { ids })
  })
  serve(ROUTES.matchLight, ({ id, body: { to } }) => lights.match(id, to))
  serve(ROUTES.giveSettings, ({ body }) => startSettings(services, body))
  serve(ROUTES.takeJobBack, ({ id }) =>
    jobs.takeBack(id, async (made, kind) => {
      const count = await takeMadeBack(versions, made, kind)
      return `Taken back in ${count === 1 ? '1 frame' : `${count} frames`}.`
    }),
  )
  return router
}
