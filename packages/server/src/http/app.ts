import { AT_WORK, ROUTES } from '@dunkelkammer/contract'
import express, { type ErrorRequestHandler, type Express, type Request, type Response } from 'express'
import { join } from 'node:path'
import { notFound, toProblem } from '../problem'
import type { Services } from '../services'
import { ANYWHERE } from './files'
import { deliveryRoutes } from './deliveries'
import { frameRoutes } from './frames'
import { guard } from './guard'
import { libraryRoutes } from './library'
import { lookRoutes } from './looks'
import { profileRoutes } from './profiles'
import { presetRoutes } from './presets'
import { serving } from './serve'
import { shootRoutes } from './shoots'
import { endStalled, STALLED_MS } from './stalled'
import { versionRoutes } from './versions'
import { workRoutes } from './work'

/** The whole HTTP face of the server: `/api` and the built web application. */
export function createApp(services: Services): Express {
  const app = express()
  app.disable('x-powered-by')
  app.use(guard(services.hostNames))
  app.use(endStalled(services.stalledMs ?? STALLED_MS))
  app.use('/api', api(services))
  if (services.webFolder) {
    const page = join(services.webFolder, 'index.html')
    app.use(express.static(services.webFolder, { index: false, maxAge: '1h', immutable: true }))
    app.get(/^\/(?!api\/).*/, (request, response, next) => {
      if (/\.\w+$/.test(request.path)) return next(notFound('file'))
      response.set('Cache-Control', 'no-cache').sendFile(page, ANYWHERE)
    })
  }
  app.use((_request, _response, next) => next(notFound('page')))
  app.use(answerProblems)
  return app
}

const answerProblems: ErrorRequestHandler = (error, request, response, next) => {
  if (response.headersSent) return next(error)
  const problem = toProblem(error)
  if (problem.code === 'failed') console.error(error)
  if (!request.complete) drain(request, response)
  response.status(problem.status).json({ code: problem.code, message: problem.message })
}

/** How long what is left of a refused body is read, so that its sender gets to the answer. */
const DRAIN_MS = 3000

/** Reads on without keeping anything: a connection that is cut while the other side still sends loses the answer. */
function drain(request: Request, response: Response): void {
  request.resume()
  response.once('finish', () => {
    const timer = setTimeout(() => request.destroy(), DRAIN_MS)
    timer.unref()
    request.once('close', () => clearTimeout(timer))
  })
}

function api(services: Services): express.Router {
  const router = express.Router()
  serving(router)(ROUTES.health, () => ({ ok: true }))
  router.post(AT_WORK, (_q, s) => {
    services.activity.touch()
    s.status(204).end()
  })
  for (const routes of [
    frameRoutes,
    versionRoutes,
    shootRoutes,
    workRoutes,
    deliveryRoutes,
    lookRoutes,
    profileRoutes,
    presetRoutes,
    libraryRoutes,
  ])
    router.use(routes(services))
  router.use((_q, _s, next) => next(notFound('page')))
  return router
}
