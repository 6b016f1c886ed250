import { ROUTES, type LibraryPage } from '@dunkelkammer/contract'
import express from 'express'
import { basename, relative } from 'node:path'
import type { z } from 'zod'
import { picturesIn } from '../jobs/importFolder'
import { makeShoots, type RebuildOrderSchema } from '../jobs/rebuild'
import { withinRoots } from '../library/roots'
import { HttpProblem } from '../problem'
import type { Services } from '../services'
import { serving } from './serve'

/** Files that are named to the page at most. */
const NAMED = 100

/** What the library's folder holds, and what of it the library does not know. */
export function libraryRoutes(services: Services): express.Router {
  const { shoots, folder, originals, jobs, roots, sidecarKeeper } = services
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

  /** @param otherwise name of a shoot for files whose sidecar names none */
  const start = async (files: string[], order: z.infer<typeof RebuildOrderSchema>, otherwise: string) => {
    const unnamed = await makeShoots(shoots, files)
    const shoot = unnamed ? shoots.create(otherwise.slice(0, 300)) : undefined
    const title = shoot ? `Bring into ${shoot.name}` : 'Rebuild the library'
    const job = jobs.add('rebuild', title, { ...order, shootId: shoot?.id })
    return { job, ...(shoot && { shoot }) }
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
      sidecars: sidecarKeeper.state,
    }
    return page
  })
  serve(ROUTES.bringInUnknown, async () => {
    const paths = (await unknown()).map((f) => f.path)
    return start(paths, { keeping: 'library' }, 'Found in the library’s folder')
  })
  serve(ROUTES.rebuild, async ({ body: { path: asked, keep } }) => {
    const path = await withinRoots(asked, roots)
    const files = await picturesIn(path)
    if (files.length === 0)
      throw new HttpProblem(404, 'none', 'There are no pictures of a kind that is read in that folder.')
    return start(files, { path, keeping: keep }, `Found in ${basename(path) || path}`)
  })
  serve(ROUTES.keepSidecars, ({ body: { always } }) => {
    sidecarKeeper.always = always
    return { ok: true }
  })
  serve(ROUTES.setUnknownAside, async () => {
    const files = await unknown()
    for (const { path } of files) folder.setAside(path)
    return { count: files.length }
  })
  serve(ROUTES.checkOriginals, () => jobs.add('check', 'Check the originals', {}))
  return router
}
