import { DeliverySchema, FILE_FORMATS, untouchedOf, type Delivery } from '@dunkelkammer/core'
import { deliverFile } from '@dunkelkammer/engine/encode'
import { randomUUID } from 'node:crypto'
import { readFile, rm } from 'node:fs/promises'
import { join } from 'node:path'
import { HttpProblem } from '../problem'
import { DeliverOrderSchema, sourceOf, type DeliverServices } from './deliverFiles'
import type { JobQueue } from './queue'

/**
 * A JPEG of the frame as it came, of the size and with the border of a file that a job has made: for beside it.
 * @throws HttpProblem 404 where there is no such file, 415 where it holds no single picture
 */
export async function originalBeside(
  services: DeliverServices & { jobs: JobQueue },
  jobId: string,
  number: number,
  signal: AbortSignal,
): Promise<Uint8Array> {
  const part = services.parts.journal(jobId).parts()[number]
  if (!part) throw new HttpProblem(404, 'not-found', 'That file is no longer there.')
  const order = DeliverOrderSchema.parse(services.jobs.requestOf(jobId))
  const made = order.deliveries[part.delivery]
  if (FILE_FORMATS[made.format.kind].holds !== 'picture')
    throw new HttpProblem(415, 'no-picture', 'This file holds no finished picture to compare.')
  const source = sourceOf(services, order, part.frame)
  const engine = await services.engine()
  const picture = await source.open(engine, signal)
  const path = join(services.folder.work, `${randomUUID()}.jpg`)
  try {
    const development = untouchedOf((await source.found?.(picture)) ?? source.development)
    await deliverFile(picture, development, plain(made), path, {}, { signal })
    return await readFile(path)
  } finally {
    engine.close(picture)
    await rm(path, { force: true })
  }
}

/** The same size and border without what is done to the picture. */
const plain = ({ size, border }: Delivery): Delivery =>
  DeliverySchema.parse({ format: { kind: 'jpeg', quality: 92 }, size, border, metadata: 'nothing' })
