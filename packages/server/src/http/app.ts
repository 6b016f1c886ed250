import {
  IdSchema,
  ImportFolderSchema,
  NewExportSchema,
  NewShootSchema,
  SaveVersionSchema,
} from '@dunkelkammer/contract'
import { EXTENSION } from '@dunkelkammer/core'
import express, { type ErrorRequestHandler, type Express, type Request } from 'express'
import { createReadStream, existsSync } from 'node:fs'
import { join } from 'node:path'
import { uprightJpeg } from '@dunkelkammer/engine/encode'
import { readRange } from '../library/readRange'
import { checkName, exportVersion, type ExportRequest } from '../jobs/exportVersion'
import { importFolder } from '../jobs/importFolder'
import { withinRoots } from '../library/roots'
import { HttpProblem, notFound, toProblem } from '../problem'
import type { Services } from '../services'
import { guard } from './guard'

const JSON_LIMIT = '4mb'

const id = (request: Request) => IdSchema.parse(request.params.id)

/** The whole HTTP face of the server: `/api` and the built web application. */
export function createApp(services: Services): Express {
  const app = express()
  app.disable('x-powered-by')
  app.use(guard(services.hostNames))
  app.use('/api', api(services))
  if (services.webFolder) {
    const page = join(services.webFolder, 'index.html')
    app.use(express.static(services.webFolder, { index: false, maxAge: '1h', immutable: true }))
    app.get(/^\/(?!api\/).*/, (request, response, next) => {
      if (/\.\w+$/.test(request.path)) return next(notFound('file'))
      response.set('Cache-Control', 'no-cache').sendFile(page)
    })
  }
  app.use((_request, _response, next) => next(notFound('page')))
  app.use(answerProblems)
  return app
}

const answerProblems: ErrorRequestHandler = (error, _request, response, next) => {
  if (response.headersSent) return next(error)
  const problem = toProblem(error)
  if (problem.status === 500) console.error(error)
  response.status(problem.status).json({ code: problem.code, message: problem.message })
}

function api({ frames, folder, jobs, roots, engine }: Services): express.Router {
  const router = express.Router()
  const json = express.json({ limit: JSON_LIMIT })

  router.get('/health', (_q, s) => void s.json({ ok: true }))

  router.get('/shoots', (_q, s) => void s.json(frames.shoots()))
  router.post('/shoots', json, (q, s) => {
    s.status(201).json(frames.createShoot(NewShootSchema.parse(q.body).name))
  })
  router.get('/shoots/:id', (q, s) => void s.json(frames.shoot(id(q))))
  router.post('/shoots/:id/frames', async (q, s) => {
    const name = String(q.query.name ?? '').replace(/^.*[/\\]/, '') || 'unnamed.dng'
    const shootId = id(q)
    frames.requireShoot(shootId)
    s.status(201).json(await frames.add(shootId, name, await folder.receive(q)))
  })
  router.post('/shoots/:id/import', json, async (q, s) => {
    const shootId = id(q)
    const shoot = frames.requireShoot(shootId)
    const path = await withinRoots(ImportFolderSchema.parse(q.body).path, roots)
    const job = jobs.add('import', `Bring into ${shoot.name}`, { shootId, path }, (report) =>
      importFolder(frames, folder, shootId, path, report),
    )
    s.status(202).json(job)
  })

  router.get('/frames/:id', (q, s) => void s.json(frames.frame(id(q))))
  router.get('/frames/:id/original', (q, s) => {
    s.type('application/octet-stream').set('Cache-Control', 'private, max-age=86400, immutable')
    s.sendFile(frames.original(id(q)).path)
  })
  router.get('/frames/:id/preview', (q, s, next) => {
    const { path, preview, orientation } = frames.original(id(q))
    if (!preview) return next(notFound('preview'))
    s.type('image/jpeg').set('Cache-Control', 'private, max-age=86400, immutable')
    if (orientation !== 1) {
      readRange(path, preview.offset, preview.length)
        .then((jpeg) => uprightJpeg(jpeg, orientation))
        .then((upright) => s.send(Buffer.from(upright)), next)
      return
    }
    s.set('Content-Length', String(preview.length))
    createReadStream(path, { start: preview.offset, end: preview.offset + preview.length - 1 })
      .on('error', next)
      .pipe(s)
  })

  router.get('/versions/:id', (q, s) => void s.json(frames.version(id(q))))
  router.put('/versions/:id', json, (q, s) => {
    const { revision, state } = SaveVersionSchema.parse(q.body)
    s.json(frames.saveVersion(id(q), revision, state))
  })

  router.get('/jobs', (_q, s) => void s.json(jobs.list()))
  router.get('/jobs/:id', (q, s) => void s.json(jobs.get(id(q))))
  router.post('/jobs/:id/cancel', (q, s) => void s.json(jobs.cancel(id(q))))
  router.post('/exports', json, (q, s) => {
    const wanted = NewExportSchema.parse(q.body)
    const version = frames.version(wanted.versionId)
    const { history, cursor } = version.state
    const request: ExportRequest = {
      original: frames.original(version.frameId).path,
      development: history[cursor].development,
      options: wanted.options,
      fileName: wanted.fileName,
      taken: wanted.taken,
    }
    checkName(folder.deliveries, request)
    const title = wanted.fileName + EXTENSION[wanted.options.format]
    const job = jobs.add('export', title, { ...wanted, development: request.development }, async (report) =>
      exportVersion(await engine(), folder.deliveries, request, report),
    )
    s.status(202).json(job)
  })
  router.get('/deliveries/:id', (q, s) => {
    const job = jobs.get(id(q))
    const path = job.fileName && join(folder.deliveries, job.fileName)
    if (!path || !existsSync(path)) throw new HttpProblem(404, 'not-found', 'That file is no longer there.')
    s.download(path, job.fileName!)
  })

  router.use((_q, _s, next) => next(notFound('page')))
  return router
}
