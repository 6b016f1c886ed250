import type { Engine } from '@dunkelkammer/engine'
import { builtEngineFiles, builtFormatWorker, createAdapter, createEngine } from '@dunkelkammer/engine/node'
import { join } from 'node:path'
import { openDatabase } from './db/open'
import { Activity } from './jobs/activity'
import { QUIET_MS, ThumbMaker } from './jobs/thumbMaker'
import { JobQueue } from './jobs/queue'
import { LibraryFolder } from './library/folder'
import { lockLibrary, type FolderLock } from './library/lock'
import { claimFolder } from './library/mark'
import { Originals } from './library/originals'
import { Frames } from './library/frames'
import { Looks } from './library/looks'
import { Lenses } from './lenses/lenses'

/** Everything the HTTP face stands on. */
export interface Services {
  frames: Frames
  folder: LibraryFolder
  originals: Originals
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
  /** A request of which nothing comes for so long is ended. */
  stalledMs?: number
  close(): Promise<void>
}

export interface ServiceOptions {
  library: string
  roots: readonly string[]
  project: string
  webFolder?: string
  /** How long settings rest before their thumbnail is made. */
  quietMs?: number
  stalledMs?: number
}

/**
 * Opens a library and goes on where a server was stopped in the middle.
 * @throws StartProblem where the folder is no library, or another server has it
 */
export function openServices(options: ServiceOptions): Services {
  claimFolder(options.library)
  const lock = lockLibrary(options.library)
  try {
    return open(options, lock)
  } catch (error) {
    lock.release()
    throw error
  }
}

function open(options: ServiceOptions, lock: FolderLock): Services {
  const folder = new LibraryFolder(options.library)
  const db = openDatabase(folder.database, join(options.project, 'packages/server/drizzle'))
  const adapter = createAdapter(builtFormatWorker(options.project))
  const originals = new Originals(db, folder)
  const frames = new Frames(db, folder, originals, adapter)
  const jobs = new JobQueue(db)
  folder.sweepRuns()
  jobs.recover()
  originals.finishRemovals()
  let engine: Engine | undefined
  const activity = new Activity()
  const files = builtEngineFiles(options.project)
  const looks = new Looks(db, folder)
  const lenses = new Lenses(db)
  const served = (made: Engine) => lenses.serve(looks.serve(made))
  frames.begin = (metadata) => looks.beginning(metadata)
  const thumbs = new ThumbMaker(
    frames,
    folder,
    activity,
    () => served(createEngine(files, { workers: 1, nice: 19 })),
    options.quietMs ?? QUIET_MS,
  )
  frames.onChange = () => thumbs.wake()
  thumbs.wake()
  return {
    frames,
    folder,
    originals,
    jobs,
    thumbs,
    activity,
    looks,
    lenses,
    roots: options.roots,
    // started with the first delivery: looking through a library needs none
    engine: () => (engine ??= served(createEngine(files))),
    webFolder: options.webFolder,
    stalledMs: options.stalledMs,
    async close() {
      await Promise.all([jobs.close(), thumbs.close()])
      adapter.stop()
      originals.close()
      engine?.stop()
      db.close()
      folder.close()
      lock.release()
    },
  }
}
