import { FILES, ROUTES } from '@dunkelkammer/contract'
import { pictureIn } from '@dunkelkammer/engine/encode'
import express, { type Request } from 'express'
import { existsSync } from 'node:fs'
import { basename, join } from 'node:path'
import { ZipFile } from 'yazl'
import { numbered } from '@dunkelkammer/engine/deliveries'
import { originalBeside } from '../jobs/comparedFile'
import { startDelivery } from '../jobs/deliverFiles'
import { estimate } from '../jobs/estimate'
import { expectFiles } from '../jobs/expectFiles'
import { HttpProblem } from '../problem'
import type { Services } from '../services'
import { ANYWHERE } from './files'
import { idOf, serving } from './serve'

/** Long edge of the small picture of a file. */
const THUMB = 96

const gone = () => new HttpProblem(404, 'not-found', 'That file is no longer there.')

/** Saved deliveries, and the files that are made by them. */
export function deliveryRoutes(services: Services): express.Router {
  const { deliveries, folder, handOvers, jobs, parts, programs } = services
  const router = express.Router()
  const serve = serving(router)

  serve(ROUTES.deliveries, () => deliveries.list())
  serve(ROUTES.addDelivery, ({ body }) => deliveries.add(body))
  serve(ROUTES.changeDelivery, ({ id, body }) => deliveries.change(id, body))
  serve(ROUTES.removeDelivery, ({ id }) => {
    deliveries.remove(id)
    return { ok: true }
  })
  serve(ROUTES.programs, () => programs.names)
  serve(ROUTES.handedOver, () => handOvers.list())
  serve(ROUTES.giveAgain, ({ id }) => handOvers.giveAgain(id))
  serve(ROUTES.waitNoLonger, ({ id }) => {
    handOvers.waitNoLonger(id)
    return { ok: true }
  })
  serve(ROUTES.deliver, ({ body }) => startDelivery(services, body))
  serve(ROUTES.expectFiles, ({ body }) => expectFiles(services, body))
  serve(ROUTES.estimateFiles, ({ body, request }) => {
    const stop = new AbortController()
    // answered, or nobody waits for it any more
    request.res?.once('close', () => stop.abort())
    return estimate(services, body, stop.signal)
  })
  serve(ROUTES.filesOfJob, ({ id }) => {
    jobs.get(id)
    return parts.files(id)
  })
  router.get(FILES.zippedFiles, (request, response, next) => {
    const files = parts.files(idOf(request)).filter((f) => f.state === 'done' && f.path && existsSync(f.path))
    if (files.length === 0) return next(gone())
    // pictures are compressed already
    const zip = new ZipFile()
    const given = new Set<string>()
    for (const { path } of files) {
      let name = basename(path!)
      for (let n = 2; given.has(name); n++) name = numbered(basename(path!), n)
      given.add(name)
      zip.addFile(path!, name, { compress: false })
    }
    // a file that has gone meanwhile ends the download, so that nobody takes it for whole
    zip.on('error', () => response.destroy())
    response.attachment('deliveries.zip')
    zip.outputStream.pipe(response)
    zip.end()
  })
  /** @throws HttpProblem 404 where it is not there, or not yet */
  const pathOf = (request: Request): string => {
    const id = idOf(request)
    const part = parts.file(id, Number(request.params.number))
    // jobs of one file had no parts once
    const { fileName } = jobs.get(id)
    const path = part ? part.state === 'done' && part.file : fileName && join(folder.deliveries, fileName)
    if (!path || !existsSync(path)) throw gone()
    return path
  }
  router.get(FILES.madeFile, (request, response) => {
    const path = pathOf(request)
    response.download(path, basename(path), ANYWHERE)
  })
  const shown = (address: string, edge?: number) =>
    router.get(address, async (request, response) => {
      const jpeg = await pictureIn(pathOf(request), edge)
      if (!jpeg) throw new HttpProblem(415, 'no-picture', 'A browser shows no picture of this kind of file.')
      // another file may have its name later
      response.type('image/jpeg').set('Cache-Control', 'no-cache').send(jpeg)
    })
  shown(FILES.madeThumb, THUMB)
  shown(FILES.madeView)
  router.get(FILES.madeOriginal, async (request, response) => {
    const stop = new AbortController()
    response.once('close', () => stop.abort())
    const jpeg = await originalBeside(services, idOf(request), Number(request.params.number), stop.signal)
    response.type('image/jpeg').set('Cache-Control', 'no-cache').send(Buffer.from(jpeg))
  })
  return router
}
