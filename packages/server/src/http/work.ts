import { FILES, ROUTES } from '@dunkelkammer/contract'
import { EXTENSION } from '@dunkelkammer/core'
import express from 'express'
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { carriedMetadata } from '../jobs/carried'
import { checkName, exportVersion, type ExportRequest } from '../jobs/exportVersion'
import { LightMatcher } from '../jobs/lightMatcher'
import { mendDust, type DustFrame } from '../jobs/mendDust'
import { opening, startSettings } from '../jobs/startSettings'
import { takeMadeBack } from '../jobs/takeBack'
import { writeXmp } from '../library/sidecars/xmp'
import { HttpProblem } from '../problem'
import type { Services } from '../services'
import { ANYWHERE } from './files'
import { idOf, serving } from './serve'

/** Deliveries and other work that is done in the server's own time. */
export function workRoutes(services: Services): express.Router {
  const { frames, versions, folder, jobs, engine } = services
  const router = express.Router()
  const serve = serving(router)
  const lights = new LightMatcher(services)

  const openFrame = (id: string) => opening(services, id)
  /** The version of a frame that stands for it. */
  const shownOf = (id: string) => {
    const { frame, shown } = frames.get(id)
    const all = versions.of(id)
    return { frame, version: all.find((v) => v.id === shown) ?? all[0] }
  }

  serve(ROUTES.jobs, () => jobs.list())
  serve(ROUTES.job, ({ id }) => jobs.get(id))
  serve(ROUTES.cancelJob, ({ id }) => jobs.cancel(id))
  serve(ROUTES.mendDust, ({ body: { ids } }) => {
    const wanted = ids.map((id): DustFrame => {
      const { frame, version } = shownOf(id)
      const { id: versionId, development } = version
      const { make, model } = frame.metadata
      return {
        ...{ versionId, fileName: frame.fileName, development },
        camera: [make, model, frame.width, frame.height].join(' '),
        read: () => frames.readOriginal(id),
      }
    })
    const title = ids.length === 1 ? `Dust in ${wanted[0].fileName}` : `Dust in ${ids.length} frames`
    return jobs.add('dust', title, { ids }, async (report) =>
      mendDust(await engine(), wanted, versions, report),
    )
  })
  serve(ROUTES.matchLight, ({ id, body: { to } }) => lights.match(id, to))
  serve(ROUTES.giveSettings, ({ body }) => startSettings(services, body))
  serve(ROUTES.takeJobBack, ({ id }) =>
    jobs.takeBack(id, async (made, kind) => {
      const count = await takeMadeBack(versions, made, kind)
      return `Taken back in ${count === 1 ? '1 frame' : `${count} frames`}.`
    }),
  )
  serve(ROUTES.deliver, ({ body: wanted }) => {
    const version = versions.standing(wanted.versionId)
    const words = frames.words(version.frameId)
    const request: ExportRequest = {
      open: openFrame(version.frameId),
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
