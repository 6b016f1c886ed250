import { FILES, ROUTES } from '@dunkelkammer/contract'
import { EXTENSION } from '@dunkelkammer/core'
import express from 'express'
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { carriedMetadata } from '../jobs/carried'
import { checkName, exportVersion, type ExportRequest } from '../jobs/exportVersion'
import { writeXmp } from '../library/xmp'
import { HttpProblem } from '../problem'
import type { Services } from '../services'
import { ANYWHERE } from './files'
import { idOf, serving } from './serve'

/** Deliveries and other work that is done in the server's own time. */
export function workRoutes({ frames, versions, folder, jobs, engine }: Services): express.Router {
  const router = express.Router()
  const serve = serving(router)

  serve(ROUTES.jobs, () => jobs.list())
  serve(ROUTES.job, ({ id }) => jobs.get(id))
  serve(ROUTES.cancelJob, ({ id }) => jobs.cancel(id))
  serve(ROUTES.deliver, ({ body: wanted }) => {
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
    return jobs.add('export', title, asked, async (report) => {
      const outcome = await exportVersion(await engine(), folder, request, report)
      frames.markDelivered(version.frameId)
      return outcome
    })
  })
  router.get(FILES.delivery, (q, s) => {
    const job = jobs.get(idOf(q))
    const path = job.fileName && join(folder.deliveries, job.fileName)
    if (!path || !existsSync(path)) throw new HttpProblem(404, 'not-found', 'That file is no longer there.')
    s.download(path, job.fileName!, ANYWHERE)
  })
  return router
}
