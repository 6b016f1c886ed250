import type { Engine } from '@dunkelkammer/engine'
import { builtEngineFiles, builtFormatWorker, createAdapter, createEngine } from '@dunkelkammer/engine/node'
import { join } from 'node:path'
import { openDatabase } from './db/open'
import { HandOvers } from './handOver/handOvers'
import { Programs } from './handOver/programs'
import { HandOverRows } from './handOver/rows'
import { Activity } from './jobs/activity'
import { ComeWithPreset } from './jobs/comeWithPreset'
import { SidecarKeeper } from './jobs/sidecarKeeper'
import { QUIET_MS, ThumbMaker } from './jobs/thumbMaker'
import { importKind } from './jobs/importFolder'
import { rebuildKind } from './jobs/rebuild'
import { checkKind } from './jobs/checkOriginals'
import { dustKind } from './jobs/mendDust'
import { settingsKind } from './jobs/startSettings'
import { deliverKind } from './jobs/deliverFiles'
import { JobParts } from './jobs/partsJournal'
import { JobQueue } from './jobs/queue'
import { Deliveries } from './library/deliveries'
import { Finds } from './library/finds'
import { LibraryFolder } from './library/folder'
import { lockLibrary, type FolderLock } from './library/lock'
import { claimFolder } from './library/mark'
import { Originals } from './library/originals'
import { Sidecars } from './library/sidecars/sidecars'
import { Frames } from './library/frames'
import { Intake } from './library/intake'
import { NewFrameRules } from './library/newFrames'
import { News } from './library/news'
import { Shoots } from './library/shoots'
import { ThumbRows } from './library/thumbRows'
import { Versions } from './library/versions'
import { Bulk } from './library/bulk'
import { Looks } from './library/looks'
import { ColourProfiles } from './library/profiles'
import { PresetShelf } from './library/presets'
import { Lenses } from './lenses/lenses'

/** Everything the HTTP face stands on. */
export interface Services {
  shoots: Shoots
  frames: Frames
  versions: Versions
  intake: Intake
  folder: LibraryFolder
  originals: Originals
  jobs: JobQueue
  parts: JobParts
  deliveries: Deliveries
  thumbs: ThumbMaker
  activity: Activity
  looks: Looks
  profiles: ColourProfiles
  programs: Programs
  handOvers: HandOvers
  presets: PresetShelf
  newFrames: NewFrameRules
  bulk: Bulk
  lenses: Lenses
  finds: Finds
  sidecars: Sidecars
  sidecarKeeper: SidecarKeeper
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
  /** How far the making of thumbnails steps back from all else on the machine, 0 to 19. */
  niceness?: number
  /** File that names the programs which files may be given to. */
  programs?: string
  /** How often it is looked for what has come back of files. */
  returnsMs?: number
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
  const programs = options.programs ? Programs.read(options.programs) : new Programs()
  const folder = new LibraryFolder(options.library)
  const db = openDatabase(folder.database, join(options.project, 'packages/server/drizzle'))
  const adapter = createAdapter(builtFormatWorker(options.project))
  const originals = new Originals(db, folder)
  const news = new News(db)
  const versions = new Versions(db, news)
  const frames = new Frames(db, folder, originals, adapter, news)
  const shoots = new Shoots(db, folder, originals, versions, news)
  const intake = new Intake(db, shoots, frames, versions, originals, adapter, news)
  const jobs = new JobQueue(db)
  folder.sweepRuns()
  originals.finishRemovals()
  let engine: Engine | undefined
  const activity = new Activity()
  const files = builtEngineFiles(options.project)
  const looks = new Looks(db, folder)
  const deliveries = new Deliveries(db)
  const profiles = new ColourProfiles(folder, deliveries)
  const bulk = new Bulk(db)
  const presets = new PresetShelf(db, bulk)
  const lenses = new Lenses(db)
  const finds = new Finds(folder)
  const served = (made: Engine) => lenses.serve(looks.serve(bulk.serve(made)))
  const newFrames = new NewFrameRules(db, presets)
  const sidecars = new Sidecars({ frames, versions, shoots, bulk, lenses })
  intake.restore = (tx, frameId, kept) => sidecars.restore(tx, frameId, kept)
  intake.begin = (metadata) => newFrames.beginning(metadata)
  intake.preset = (id) => presets.list().presets.find((p) => p.id === id)
  // started with the first delivery: looking through a library needs none
  const serving = () => (engine ??= served(createEngine(files)))
  const coming = new ComeWithPreset({ frames, versions, jobs, finds, activity, engine: serving })
  intake.onWanting = (frameId, preset) => coming.add(frameId, preset)
  const quietMs = options.quietMs ?? QUIET_MS
  const thumbs = new ThumbMaker(
    frames,
    versions,
    new ThumbRows(db, news),
    folder,
    activity,
    finds,
    () => served(createEngine(files, { workers: 1, nice: options.niceness ?? 19 })),
    quietMs,
  )
  const sidecarKeeper = new SidecarKeeper(db, frames, sidecars, activity, quietMs)
  const wake = () => {
    thumbs.wake()
    sidecarKeeper.wake()
  }
  for (const changing of [shoots, frames, versions, intake]) changing.onChange = wake
  wake()
  const rows = new HandOverRows(db)
  const handOvers = new HandOvers({ rows, programs, frames, intake, folder }, options.returnsMs)
  const services: Services = {
    shoots,
    frames,
    versions,
    intake,
    folder,
    originals,
    jobs,
    parts: new JobParts(db),
    deliveries,
    profiles,
    programs,
    handOvers,
    thumbs,
    activity,
    looks,
    presets,
    newFrames,
    bulk,
    lenses,
    finds,
    sidecars,
    sidecarKeeper,
    roots: options.roots,
    engine: serving,
    webFolder: options.webFolder,
    stalledMs: options.stalledMs,
    async close() {
      coming.close()
      await Promise.all([handOvers.close(), jobs.close(), thumbs.close(), sidecarKeeper.close()])
      adapter.stop()
      originals.close()
      engine?.stop()
      db.close()
      folder.close()
      lock.release()
    },
  }
  jobs.start({
    import: importKind(services),
    rebuild: rebuildKind(services),
    check: checkKind(services),
    dust: dustKind(services),
    settings: settingsKind(services),
    deliver: deliverKind(services),
  })
  return services
}
