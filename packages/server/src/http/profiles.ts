import { FILES, ProfileIdSchema, ProofQuerySchema, ROUTES } from '@dunkelkammer/contract'
import { MOST_PROFILE_BYTES, proofTable } from '@dunkelkammer/engine/profiles'
import express from 'express'
import type { Services } from '../services'
import { rawBody } from './bodies'
import { FOR_GOOD } from './files'
import { serving } from './serve'

/** Colour profiles, and how what they are for is shown on a display. */
export function profileRoutes({ profiles }: Services): express.Router {
  const router = express.Router()
  const serve = serving(router)

  serve(ROUTES.profiles, () => profiles.list())
  serve(
    ROUTES.addProfile,
    ({ request }) => profiles.add(request.body as Uint8Array),
    rawBody(MOST_PROFILE_BYTES),
  )
  serve(ROUTES.removeProfile, async ({ params }) => {
    await profiles.remove(ProfileIdSchema.parse(params.id))
    return { ok: true }
  })
  router.get(FILES.proofTable, async (request, response) => {
    const { display, ...how } = ProofQuerySchema.parse(request.query)
    const { values } = await proofTable(await profiles.bytes(request.params.id), how, display)
    response.type('application/octet-stream').set('Cache-Control', FOR_GOOD)
    response.send(Buffer.from(values.buffer, values.byteOffset, values.byteLength))
  })
  return router
}
