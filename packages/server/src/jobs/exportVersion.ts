import { EXTENSION, type DeliveryOptions, type Development, type FrameMetadata } from '@dunkelkammer/core'
import type { Engine, Picture } from '@dunkelkammer/engine'
import { deliverFile, FileExists, writeWhole } from '@dunkelkammer/engine/encode'
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import type { LibraryFolder } from '../library/folder'
import { HttpProblem } from '../problem'
import type { JobOutcome, JobReport } from './queue'

export interface ExportRequest {
  open(engine: Engine, signal: AbortSignal): Promise<Picture>
  /** Metadata that the file is to carry, from what the original has. */
  metadata(original: FrameMetadata): FrameMetadata | undefined
  /** Words of the frame, as XMP. */
  xmp?: string
  development: Development
  options: DeliveryOptions
  /** Without ending. */
  fileName: string
  taken: 'ask' | 'number' | 'replace'
}

/** @throws HttpProblem 409 where the name is taken and the user wants to be asked */
export function checkName(folder: string, { fileName, options, taken }: ExportRequest): void {
  const name = fileName + EXTENSION[options.format]
  if (taken === 'ask' && existsSync(join(folder, name)))
    throw new HttpProblem(409, 'exists', `There is a file named ${name} among the deliveries already.`)
}

/** Develops a version and writes it into the deliveries. */
export async function exportVersion(
  engine: Engine,
  { deliveries: folder, work: workFolder }: Pick<LibraryFolder, 'deliveries' | 'work'>,
  request: ExportRequest,
  report: JobReport,
): Promise<JobOutcome> {
  const picture = await request.open(engine, report.signal)
  try {
    const bytes = await deliverFile(
      picture,
      request.development,
      request.options,
      { metadata: request.metadata(picture.frame.metadata), xmp: request.xmp },
      report.signal,
      (done, all) => report.progress(0.05 + (0.9 * done) / all),
    )
    report.signal.throwIfAborted()
    const fileName = await place(folder, workFolder, request, bytes)
    return { message: `Saved as ${fileName}.`, fileName }
  } finally {
    engine.close(picture)
  }
}

async function place(
  folder: string,
  workFolder: string,
  request: ExportRequest,
  bytes: Uint8Array,
): Promise<string> {
  const ending = EXTENSION[request.options.format]
  for (let n = 1; ; n++) {
    const name = n === 1 ? request.fileName + ending : `${request.fileName} (${n})${ending}`
    try {
      await writeWhole(join(folder, name), bytes, { replace: request.taken === 'replace', workFolder })
      return name
    } catch (error) {
      if (!(error instanceof FileExists)) throw error
      if (request.taken !== 'number' || n > 9999)
        throw new HttpProblem(409, 'exists', `A file named ${name} has come into the deliveries meanwhile.`)
    }
  }
}
