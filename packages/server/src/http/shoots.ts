import {
  AtImportSchema,
  ImportFolderSchema,
  MAX_KEPT,
  NewShootSchema,
  ShootChangeSchema,
} from '@dunkelkammer/contract'
import express from 'express'
import { importFolder } from '../jobs/importFolder'
import { receive, tooLarge } from '../library/receive'
import { withinRoots } from '../library/roots'
import type { Services } from '../services'
import { jsonBody, refuseLarge } from './bodies'
import { idOf } from './requests'

/** Shoots: what is in them, and what comes in. */
export function shootRoutes({ shoots, intake, folder, jobs, activity, roots }: Services): express.Router {
  const router = express.Router()
  const json = jsonBody()

  router.get('/shoots', (_q, s) => void s.json(shoots.list()))
  router.post('/shoots', json, (q, s) => {
    const { name, atImport } = NewShootSchema.parse(q.body)
    s.status(201).json(shoots.create(name, atImport))
  })
  router.get('/shoots/:id', (q, s) => void s.type('application/json').send(shoots.pageText(idOf(q))))
  router.put('/shoots/:id/at-import', json, (q, s) => {
    s.json(shoots.setAtImport(idOf(q), AtImportSchema.parse(q.body)))
  })
  router.get('/shoots/:id/news', (q, s) => {
    const since = Number(q.query.since ?? 0)
    s.json(shoots.newsOf(idOf(q), Number.isFinite(since) ? since : 0))
  })
  router.delete('/shoots/:id/bin', async (q, s) => void s.json({ count: await shoots.emptyBin(idOf(q)) }))
  router.post('/shoots/:id/frames', async (q, s) => {
    const fileName = String(q.query.name ?? '').replace(/^.*[/\\]/, '') || 'unnamed'
    const date = new Date(Number(q.query.date))
    const shootId = idOf(q)
    const { atImport } = shoots.require(shootId)
    refuseLarge(q, MAX_KEPT, tooLarge)
    const fileDate = isNaN(date.getTime()) || !q.query.date ? undefined : date.toISOString()
    const arrival = { fileName, fileDate, text: atImport }
    const since = performance.now()
    const added = await intake.add(shootId, arrival, await receive(q, folder.work))
    // the page sends the next file when this one is answered
    await activity.stepBack(performance.now() - since)
    s.status(201).json(added)
  })
  router.post('/shoots/:id/import', json, async (q, s) => {
    const shootId = idOf(q)
    const { path: asked, keep, text } = ImportFolderSchema.parse(q.body)
    const shoot = shoots.require(shootId)
    const path = await withinRoots(asked, roots)
    shoots.setAtImport(shootId, text)
    const order = { shootId, path, keep, text }
    const job = jobs.add('import', `Bring into ${shoot.name}`, order, (report) =>
      importFolder(intake, folder, activity, order, report),
    )
    s.status(202).json(job)
  })
  router.patch('/shoots/:id', json, (q, s) => {
    const { name } = ShootChangeSchema.parse(q.body)
    s.json(shoots.rename(idOf(q), name))
  })
  router.delete('/shoots/:id', async (q, s) => void s.json({ count: await shoots.remove(idOf(q)) }))
  return router
}
