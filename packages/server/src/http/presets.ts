import { FILES, PresetIdSchema, ROUTES } from '@dunkelkammer/contract'
import express from 'express'
import { z } from 'zod'
import { fileNameOf, MOST_SENT, zippedPresets } from '../library/presetFiles'
import type { Services } from '../services'
import { rawBody } from './bodies'
import { serving } from './serve'

const presetId = ({ id }: { id: string }) => PresetIdSchema.parse(id)
const DownloadSchema = z.object({
  ids: z
    .string()
    .max(250_000)
    .transform((ids) => ids.split(',')),
})

/** The presets of the library. */
export function presetRoutes({ presets }: Pick<Services, 'presets'>): express.Router {
  const router = express.Router()
  const serve = serving(router)

  serve(ROUTES.presets, () => presets.list())
  serve(ROUTES.addPreset, ({ body }) => presets.add(body))
  serve(ROUTES.orderPresets, ({ body: { ids } }) => presets.order(ids))
  serve(ROUTES.hideGroups, ({ body: { groups } }) => presets.hide(groups))
  serve(ROUTES.restorePresets, () => presets.restore())
  serve(
    ROUTES.readPresets,
    ({ query: { name }, request }) => {
      const body: unknown = request.body
      return presets.read(name, Buffer.isBuffer(body) ? body : new Uint8Array())
    },
    rawBody(MOST_SENT),
  )
  serve(ROUTES.importPresets, ({ body }) => ({ count: presets.import(body.presets) }))
  router.get(FILES.zippedPresets, (q, s) => {
    const { ids } = DownloadSchema.parse(q.query)
    const wanted = ids.map((id) => ({ name: presets.get(id).name, file: presets.file(id) }))
    s.type('application/zip').set('Content-Disposition', 'attachment; filename="presets.zip"')
    s.send(Buffer.from(zippedPresets(wanted)))
  })
  router.get(FILES.preset, (q, s) => {
    const id = presetId(q.params as { id: string })
    s.attachment(fileNameOf(presets.get(id).name)).type('application/json')
    s.send(JSON.stringify(presets.file(id), null, 2))
  })
  serve(ROUTES.changePreset, ({ params, body }) => presets.change(presetId(params), body))
  serve(ROUTES.removePreset, ({ params }) => {
    presets.remove(presetId(params))
    return { ok: true }
  })
  serve(ROUTES.takePresetBack, ({ params }) => presets.takeBack(presetId(params)))
  return router
}
