import {
  FrameChangesSchema,
  FramesSchema,
  LensIdSchema,
  LensWishSchema,
  MAX_KEPT,
  NewExportSchema,
  NewFramesSchema,
  NewRecipeSchema,
} from '@dunkelkammer/contract'
import { EXTENSION, LensProfileSchema } from '@dunkelkammer/core'
import express, { type ErrorRequestHandler, type Express, type Request, type Response } from 'express'
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { z } from 'zod'
import { looksWhole, smallJpeg, uprightJpeg } from '@dunkelkammer/engine/encode'
import { checkName, exportVersion, type ExportRequest } from '../jobs/exportVersion'
import { carriedMetadata } from '../jobs/carried'
import { MAX_LENS_XML } from '../lenses/lenses'
import { MAX_LOOK } from '../library/looks'
import { writeSidecars, zippedSidecars } from '../library/sidecars'
import { MAX_XMP, readXmp, writeXmp } from '../library/xmp'
import { HttpProblem, notFound, pictureDamaged, toProblem } from '../problem'
import { KEPT, keptOnly, receive, tooLarge } from '../library/receive'
import type { Services } from '../services'
import { jsonBody, refuseLarge, textBody } from './bodies'
import { guard } from './guard'
import { libraryRoutes } from './library'
import { idOf } from './requests'
import { shootRoutes } from './shoots'
import { versionRoutes } from './versions'
import { endStalled, STALLED_MS } from './stalled'

/** Longer side of previews that are made from a picture file. */
const PREVIEW_EDGE = 2048

/** Folders above the library or the project may have names that begin with a dot. */
const ANYWHERE = { dotfiles: 'allow' } as const

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
  const { frames, versions, folder, jobs, thumbs, activity, looks, lenses, engine, originals } = services
  const router = express.Router()
  const json = jsonBody()

  router.get('/health', (_q, s) => void s.json({ ok: true }))

  router.post('/at-work', (_q, s) => {
    activity.touch()
    s.status(204).end()
  })

  router.patch('/frames', jsonBody(8 << 20), (q, s) => {
    s.json({ count: frames.change(FrameChangesSchema.parse(q.body).changes) })
  })
  router.post('/sidecars', json, async (q, s) => {
    s.json(await writeSidecars(frames, FramesSchema.parse(q.body).ids))
  })
  router.post('/sidecars/download', json, (q, s) => {
    s.type('application/zip').attachment('sidecars.zip')
    s.send(Buffer.from(zippedSidecars(frames, FramesSchema.parse(q.body).ids)))
  })
  router.put('/frames/:id/sidecar', textBody(MAX_XMP), (q, s) => {
    frames.takeSidecar(idOf(q), readXmp(String(q.body)))
    s.status(204).end()
  })
  router.get('/frames/:id/original', async (q, s) => {
    const { place, format } = frames.original(idOf(q))
    if (format === KEPT) throw keptOnly()
    const path = await originals.sound(place)
    s.type('application/octet-stream').set('Cache-Control', 'private, max-age=86400, immutable')
    s.set('X-Format', format).sendFile(path, ANYWHERE)
  })
  router.put('/frames/:id/original', async (q, s) => {
    const frameId = idOf(q)
    frames.original(frameId)
    refuseLarge(q, MAX_KEPT, tooLarge)
    await frames.restoreOriginal(frameId, await receive(q, folder.work))
    s.status(204).end()
  })
  router.post('/originals/copies', json, async (q, s) => {
    s.json(await frames.keepCopies(FramesSchema.parse(q.body).ids))
  })
  router.get('/frames/:id/thumbnail', async (q, s) => {
    const path = await thumbs.path(idOf(q))
    if (!path) throw notFound('thumbnail')
    // its address changes with it
    s.type('image/jpeg').set('Cache-Control', 'private, max-age=86400, immutable')
    s.sendFile(path, ANYWHERE)
  })
  router.get('/frames/:id/preview', async (q, s) => {
    const picture = await thumbs.pictureInFile(idOf(q))
    if (!picture) throw notFound('preview')
    const { bytes, orientation, embedded } = picture
    if (embedded && !looksWhole(bytes)) throw pictureDamaged()
    const shown = await (embedded ? uprightJpeg(bytes, orientation) : smallJpeg(bytes, PREVIEW_EDGE)).catch(
      () => {
        throw pictureDamaged()
      },
    )
    s.type('image/jpeg').set('Cache-Control', 'private, max-age=86400, immutable')
    s.send(Buffer.from(shown))
  })

  router.get('/jobs', (_q, s) => void s.json(jobs.list()))
  router.get('/jobs/:id', (q, s) => void s.json(jobs.get(idOf(q))))
  router.post('/jobs/:id/cancel', (q, s) => void s.json(jobs.cancel(idOf(q))))
  router.post('/exports', json, (q, s) => {
    const wanted = NewExportSchema.parse(q.body)
    const version = versions.standing(wanted.versionId)
    const words = frames.words(version.frameId)
    const request: ExportRequest = {
      read: () => frames.readOriginal(version.frameId),
      development: version.development,
      options: wanted.options,
      fileName: wanted.fileName,
      taken: wanted.taken,
      metadata: (original) => carriedMetadata(original, words.text, wanted.carry),
      xmp: wanted.carry === 'nothing' ? undefined : writeXmp(words.text, words.rating, words.mark),
    }
    checkName(folder.deliveries, request)
    const title = wanted.fileName + EXTENSION[wanted.options.format]
    const asked = { ...wanted, development: request.development }
    const job = jobs.add('export', title, asked, async (report) => {
      const outcome = await exportVersion(await engine(), folder, request, report)
      frames.markDelivered(version.frameId)
      return outcome
    })
    s.status(202).json(job)
  })
  router.get('/looks', (_q, s) => void s.json(looks.list()))
  router.post('/looks/table', textBody(MAX_LOOK), async (q, s) => {
    const name = z
      .string()
      .trim()
      .max(120)
      .parse(q.query.name ?? '')
    s.status(201).json(await looks.addTable(name, typeof q.body === 'string' ? q.body : ''))
  })
  router.post('/looks/recipe', json, (q, s) => {
    const { name, recipe } = NewRecipeSchema.parse(q.body)
    s.status(201).json(looks.addRecipe(name, recipe))
  })
  router.get('/looks/:id/table', async (q, s) => {
    s.type('text/plain').set('Cache-Control', 'private, max-age=86400, immutable')
    s.send(await looks.table(q.params.id))
  })
  router.delete('/looks/:id', (q, s) => {
    looks.remove(z.string().max(80).parse(q.params.id))
    s.json({ ok: true })
  })
  router.get('/lenses', (q, s) => {
    const search = z
      .string()
      .max(200)
      .parse(q.query.search ?? '')
    s.json({ ...lenses.list(search), installed: lenses.hasInstalled })
  })
  router.post('/lenses', json, (q, s) => void s.status(201).json(lenses.add(LensProfileSchema.parse(q.body))))
  router.post('/lenses/find', json, (q, s) => {
    s.json({ found: lenses.find(LensWishSchema.parse(q.body)) })
  })
  router.post('/lenses/import', textBody(MAX_LENS_XML), (q, s) => {
    const name = z
      .string()
      .max(300)
      .parse(q.query.name ?? 'the file')
    s.status(201).json(lenses.importText(typeof q.body === 'string' ? q.body : '', name))
  })
  router.post('/lenses/import-installed', async (_q, s) => {
    s.status(201).json(await lenses.importInstalled())
  })
  router.get('/lenses/:id', (q, s) => void s.json(lenses.get(LensIdSchema.parse(q.params.id))))
  router.delete('/lenses/:id', (q, s) => {
    lenses.remove(LensIdSchema.parse(q.params.id))
    s.json({ ok: true })
  })
  router.get('/new-frames', (_q, s) => void s.json(looks.newFrames))
  router.put('/new-frames', json, (q, s) => {
    looks.newFrames = NewFramesSchema.parse(q.body)
    s.json(looks.newFrames)
  })

  router.get('/deliveries/:id', (q, s) => {
    const job = jobs.get(idOf(q))
    const path = job.fileName && join(folder.deliveries, job.fileName)
    if (!path || !existsSync(path)) throw new HttpProblem(404, 'not-found', 'That file is no longer there.')
    s.download(path, job.fileName!, ANYWHERE)
  })

  router.use(shootRoutes(services))
  router.use(versionRoutes(services))
  router.use(libraryRoutes(services))
  router.use((_q, _s, next) => next(notFound('page')))
  return router
}
