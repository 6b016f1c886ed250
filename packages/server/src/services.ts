import type { Engine } from '@dunkelkammer/engine'
import { builtEngineFiles, builtFormatWorker, createAdapter, createEngine } from '@dunkelkammer/engine/node'
import { join } from 'node:path'
import { openDatabase } from './db/open'
import { Activity } from './jobs/activity'
import { ThumbMaker } from './jobs/thumbMaker'
import { JobQueue } from './jobs/queue'
import { LibraryFolder } from './library/folder'
import { Frames } from './library/frames'
import { Looks } from './library/looks'
import { Lenses } from './lenses/lenses'

/** Everything the HTTP face stands on. */
export interface Services {
  frames: Frames
  folder: LibraryFolder
  jobs: JobQueue
  thumbs: ThumbMaker
  activity: Activity
  looks: Looks
  lenses: Lenses
  /** Folders that may be brought in from. */
  roots: readonly string[]
  engine(): Engine | Promise<Engine>
  /** The built web application; without it only the API is served. */
  webFolder?: string
  hostNames?: readonly string[]
  close(): Promise<void>
}

/** Opens a library and cleans up after a server that was stopped in the middle. */
export function openServices(options: {
  library: string
  roots: readonly string[]
  project: string
  webFolder?: string
}): Services {
  const folder = new LibraryFolder(options.library)
  const db = openDatabase(folder.database, join(options.project, 'packages/server/drizzle'))
  const adapter = createAdapter(builtFormatWorker(options.project))
  const frames = new Frames(db, folder, adapter)
  const jobs = new JobQueue(db)
  jobs.recover()
  folder.sweep(frames.hashes())
  let engine: Engine | undefined
  const activity = new Activity()
  const files = builtEngineFiles(options.project)
  const looks = new Looks(db, folder)
  const lenses = new Lenses(db)
  const served = (made: Engine) => lenses.serve(looks.serve(made))
  frames.begin = (metadata) => looks.beginning(metadata)
  const thumbs = new ThumbMaker(frames, folder, activity, () =>
    served(createEngine(files, { workers: 1, nice: 19 })),
  )
  frames.onChange = () => thumbs.wake()
  thumbs.wake()
  return {
    frames,
    folder,
    jobs,
    thumbs,
    activity,
    looks,
    lenses,
    roots: options.roots,
    // started with the first delivery: looking through a library needs none
    engine: () => (engine ??= served(createEngine(files))),
    webFolder: options.webFolder,
    async close() {
      await Promise.all([jobs.close(), thumbs.close()])
      adapter.stop()
      engine?.stop()
      db.close()
    },
  }
}
