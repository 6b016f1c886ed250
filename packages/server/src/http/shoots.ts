import { MAX_KEPT, ROUTES } from '@dunkelkammer/contract'
import express from 'express'
import { AWAITED_SHARE } from '../jobs/activity'
import { receive, tooLarge } from '../library/receive'
import { withinRoots } from '../library/roots'
import { FileOpener } from '../library/openFile'
import type { Services } from '../services'
import { refuseLarge } from './bodies'
import { idOf, serving } from './serve'

/** Shoots: what is in them, and what comes in. */
export function shootRoutes(services: Services): express.Router {
  const { shoots, intake, folder, jobs, activity, roots } = services
  const router = express.Router()
  const serve = serving(router)

  serve(ROUTES.shoots, () => shoots.list())
  serve(ROUTES.createShoot, ({ body: { name, atImport } }) => shoots.create(name, atImport))
  // ten thousand frames are kept as text that was made once
  router.get(ROUTES.shoot.path, (q, s) => void s.type('application/json').send(shoots.pageText(idOf(q))))
  serve(ROUTES.renameShoot, ({ id, body }) => shoots.rename(id, body.name))
  serve(ROUTES.removeShoot, async ({ id }) => ({ count: await shoots.remove(id) }))
  serve(ROUTES.setAtImport, ({ id, body }) => shoots.setAtImport(id, body))
  serve(ROUTES.news, ({ id, query }) => shoots.newsOf(id, query.since))
  serve(ROUTES.emptyBin, async ({ id }) => ({ count: await shoots.emptyBin(id) }))
  serve(ROUTES.upload, async ({ id, query, request }) => {
    const fileName = query.name.replace(/^.*[/\\]/, '') || 'unnamed'
    const date = new Date(query.date)
    const { atImport } = shoots.require(id)
    refuseLarge(request, MAX_KEPT, tooLarge)
    const fileDate = isNaN(date.getTime()) || !query.date ? undefined : date.toISOString()
    const arrival = { fileName, fileDate, text: atImport }
    const since = performance.now()
    const added = await intake.add(id, arrival, await receive(request, folder.work))
    // the page sends the next file when this one is answered
    await activity.stepBack(performance.now() - since, undefined, AWAITED_SHARE)
    return added
  })
  const opener = new FileOpener(services)
  serve(ROUTES.openFile, ({ body: { path } }) => opener.open(path))
  serve(ROUTES.importFolder, async ({ id, body: { path: asked, keep, text } }) => {
    const shoot = shoots.require(id)
    const path = await withinRoots(asked, roots)
    shoots.setAtImport(id, text)
    const order = { shootId: id, path, keep, text }
    return jobs.add('import', `Bring into ${shoot.name}`, order)
  })
  return router
}
