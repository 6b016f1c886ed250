import { FILES, FramesSchema, MAX_KEPT, ROUTES } from '@dunkelkammer/contract'
import { looksWhole, smallJpeg, uprightJpeg } from '@dunkelkammer/engine/encode'
import express from 'express'
import { FIND_NAME, MOST_FIND } from '../library/finds'
import { KEPT, keptOnly, receive, tooLarge } from '../library/receive'
import { decodedXml } from '@dunkelkammer/engine/words'
import { MAX_XMP, readXmp } from '../library/sidecars/xmp'
import { HttpProblem, notFound, pictureDamaged } from '../problem'
import type { Services } from '../services'
import { jsonBody, rawBody, refuseLarge } from './bodies'
import { ANYWHERE, FOR_GOOD } from './files'
import { idOf, serving } from './serve'

/** Longer side of previews that are made from a picture file. */
const PREVIEW_EDGE = 2048

/** Frames: their words, sidecars, originals and small pictures. */
export function frameRoutes({
  frames,
  sidecars,
  folder,
  thumbs,
  originals,
  finds,
}: Services): express.Router {
  const router = express.Router()
  const serve = serving(router)

  serve(ROUTES.changeFrames, ({ body }) => ({ count: frames.change(body.changes) }))
  serve(ROUTES.writeSidecars, ({ body }) => sidecars.write(body.ids))
  router.post(FILES.zippedSidecars, jsonBody(), (q, s) => {
    s.type('application/zip').attachment('sidecars.zip')
    s.send(Buffer.from(sidecars.zipped(FramesSchema.parse(q.body).ids)))
  })
  router.put(FILES.sidecar, rawBody(MAX_XMP), (q, s) => {
    const id = idOf(q)
    const body: unknown = q.body
    const text = Buffer.isBuffer(body) ? decodedXml(body) : ''
    const problems = frames.takeSidecar(id, readXmp(text), (tx, kept) => sidecars.restore(tx, id, kept))
    s.json({ problems })
  })
  serve(
    ROUTES.putFound,
    async ({ id, params, request }) => {
      const body: unknown = request.body
      if (!FIND_NAME.test(params.name) || !Buffer.isBuffer(body) || body.length === 0)
        throw new HttpProblem(422, 'damaged', 'What was found did not arrive whole.')
      frames.original(id)
      await finds.put(id, params.name, body)
      return { ok: true as const }
    },
    rawBody(MOST_FIND),
  )
  router.get(FILES.found, async (q, s) => {
    const { name } = q.params
    const bytes = FIND_NAME.test(name) ? await finds.get(idOf(q), name) : undefined
    // that nothing is known yet is no mistake
    if (!bytes) return void s.status(204).end()
    s.type('application/octet-stream').set('Cache-Control', 'no-store')
    s.send(Buffer.from(bytes))
  })
  router.get(FILES.original, async (q, s) => {
    const { place, format } = frames.original(idOf(q))
    if (format === KEPT) throw keptOnly()
    const path = await originals.sound(place)
    s.type('application/octet-stream').set('Cache-Control', FOR_GOOD)
    s.set('X-Format', format).sendFile(path, ANYWHERE)
  })
  router.put(FILES.original, async (q, s) => {
    const frameId = idOf(q)
    frames.original(frameId)
    refuseLarge(q, MAX_KEPT, tooLarge)
    await frames.restoreOriginal(frameId, await receive(q, folder.work))
    s.status(204).end()
  })
  serve(ROUTES.keepCopies, ({ body }) => frames.keepCopies(body.ids))
  router.get(FILES.thumbnail, async (q, s) => {
    const path = await thumbs.path(idOf(q))
    if (!path) throw notFound('thumbnail')
    s.type('image/jpeg').set('Cache-Control', FOR_GOOD).sendFile(path, ANYWHERE)
  })
  router.get(FILES.preview, async (q, s) => {
    const picture = await thumbs.pictureInFile(idOf(q))
    if (!picture) throw notFound('preview')
    const { bytes, orientation, embedded } = picture
    if (embedded && !looksWhole(bytes)) throw pictureDamaged()
    const shown = await (embedded ? uprightJpeg(bytes, orientation) : smallJpeg(bytes, PREVIEW_EDGE)).catch(
      () => {
        throw pictureDamaged()
      },
    )
    s.type('image/jpeg').set('Cache-Control', FOR_GOOD).send(Buffer.from(shown))
  })
  return router
}
