import type { Estimate, EstimateSchema, WantedEstimateSchema } from '@dunkelkammer/contract'
import { FILE_FORMATS } from '@dunkelkammer/core'
import { foundAnew } from '@dunkelkammer/engine'
import { estimateFile } from '@dunkelkammer/engine/encode'
import { stat } from 'node:fs/promises'
import type { z } from 'zod'
import { notFound } from '../problem'
import { chosenFrames, withPresets, type DeliverServices } from './deliverFiles'
import { opening } from './startSettings'

/** About how large the files of one frame will be, from samples that are encoded. */
export async function estimate(
  services: DeliverServices,
  { frame, deliveries, presets }: z.output<typeof WantedEstimateSchema>,
  signal: AbortSignal,
): Promise<z.output<typeof EstimateSchema>> {
  const [chosen] = chosenFrames(services, [frame])
  if (!chosen) throw notFound('frame')
  const { row, versionId } = chosen
  const original = async () => (await stat(services.frames.original(row.id).path)).size
  const bytes: Estimate['bytes'] = []
  let seconds = 0
  const copied = deliveries.map((d) => FILE_FORMATS[d.format.kind].holds === 'original')
  if (copied.every(Boolean)) {
    const size = await original()
    return { bytes: deliveries.map(() => size), seconds: 0 }
  }
  const engine = await services.engine()
  const began = performance.now()
  const picture = await opening(services, row.id)(engine, signal)
  try {
    const order = presets.map(({ id, strength }) => ({ file: services.presets.file(id), strength }))
    const { development, automatic } = withPresets(services.versions.standing(versionId).development, order)
    const { development: found } = await foundAnew(picture, development, automatic)
    seconds += (performance.now() - began) / 1000
    for (const [i, delivery] of deliveries.entries()) {
      const { space } = delivery
      const profile = typeof space === 'object' ? await services.profiles.bytes(space.profile) : undefined
      if (copied[i]) bytes.push(await original())
      else {
        const file = await estimateFile(picture, found, delivery, profile, signal)
        bytes.push(file.bytes)
        seconds += file.seconds
      }
    }
  } finally {
    engine.close(picture)
  }
  return { bytes, seconds }
}
