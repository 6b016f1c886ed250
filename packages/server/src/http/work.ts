import { FILES, ROUTES } from '@dunkelkammer/contract'
import { EXTENSION } from '@dunkelkammer/core'
import type { Engine } from '@dunkelkammer/engine'
import express from 'express'
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { carriedMetadata } from '../jobs/carried'
import { checkName, exportVersion, type ExportRequest } from '../jobs/exportVersion'
import { mendDust, takeDustBack, type DustFrame, type DustMade } from '../jobs/mendDust'
import { pasteArea, takeAreasBack, type AreasMade, type PasteFrame } from '../jobs/pasteAreas'
import { writeXmp } from '../library/xmp'
import { HttpProblem } from '../problem'
import type { Services } from '../services'
import { ANYWHERE } from './files'
import { idOf, serving } from './serve'

/** Deliveries and other work that is done in the server's own time. */
export function workRoutes(services: Services): express.Router {
  const { frames, versions, folder, jobs, engine, finds, activity } = services
  const router = express.Router()
  const serve = serving(router)

  const openFrame = (id: string) => async (working: Engine, signal: AbortSignal) =>
    working.open(await frames.readOriginal(id), signal, undefined, finds.of(id))
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
  serve(ROUTES.pasteArea, ({ body: { ids, area } }) => {
    const wanted = ids.map((id): PasteFrame => {
      const { frame, version } = shownOf(id)
      return { versionId: version.id, fileName: frame.fileName, open: openFrame(id) }
    })
    const title = `${area.name || 'Area'} into ${ids.length === 1 ? wanted[0].fileName : `${ids.length} frames`}`
    return jobs.add('areas', title, { ids, area }, (report) =>
      pasteArea(wanted, area, { engine, versions, activity, report }),
    )
  })
  serve(ROUTES.takeJobBack, ({ id }) =>
    jobs.takeBack(id, (made, kind) => {
      const count =
        kind === 'areas'
          ? takeAreasBack(versions, made as AreasMade)
          : takeDustBack(versions, made as DustMade)
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
