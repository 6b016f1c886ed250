import { ROUTES, type LibraryPage } from '@dunkelkammer/contract'
import express from 'express'
import { relative } from 'node:path'
import { checkOriginals } from '../jobs/checkOriginals'
import { importUnknown } from '../jobs/importFolder'
import { HttpProblem } from '../problem'
import type { Services } from '../services'
import { serving } from './serve'

/** Files that are named to the page at most. */
const NAMED = 100

/** What the library's folder holds, and what of it the library does not know. */
export function libraryRoutes({
  frames,
  shoots,
  intake,
  folder,
  originals,
  jobs,
  activity,
}: Services): express.Router {
  const router = express.Router()
  const serve = serving(router)
  const unknown = async () => {
    const files = await originals.unknown()
    if (files.length === 0)
      throw new HttpProblem(
        409,
        'none',
        'The library’s folder holds no files that the library does not know.',
      )
    return files
  }

  serve(ROUTES.library, async () => {
    const files = await originals.unknown()
    const page: LibraryPage = {
      folder: folder.root,
      originals: originals.count(),
      unknown: {
        count: files.length,
        bytes: files.reduce((n, f) => n + f.size, 0),
        names: files.slice(0, NAMED).map((f) => relative(folder.root, f.path)),
      },
    }
    return page
  })
  serve(ROUTES.bringInUnknown, async () => {
    const paths = (await unknown()).map((f) => f.path)
    const shoot = shoots.create('Found in the library’s folder')
    const job = jobs.add('import', `Bring into ${shoot.name}`, { shootId: shoot.id }, (report) =>
      importUnknown(intake, activity, shoot.id, paths, report),
    )
    return { job, shoot }
  })
  serve(ROUTES.setUnknownAside, async () => {
    const files = await unknown()
    for (const { path } of files) folder.setAside(path)
    return { count: files.length }
  })
  serve(ROUTES.checkOriginals, () =>
    jobs.add('check', 'Check the originals', {}, (report) =>
      checkOriginals(originals, frames, activity, report),
    ),
  )
  return router
}
