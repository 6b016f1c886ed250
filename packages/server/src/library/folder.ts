import { randomUUID } from 'node:crypto'
import {
  closeSync,
  existsSync,
  fsyncSync,
  mkdirSync,
  openSync,
  readdirSync,
  renameSync,
  rmSync,
  rmdirSync,
} from 'node:fs'
import { rm } from 'node:fs/promises'
import { basename, dirname, extname, join } from 'node:path'
import { placeInLibrary } from './sidecars/files'

const RUN = /^run-[0-9a-f-]{36}$/
/** Folders of a library, each with one purpose. */
const PARTS = ['originals', 'thumbs', 'deliveries', 'incoming', 'looks', 'profiles', 'found'] as const

/**
 * The library's folder: `library.db`, `originals/ab/abcd….dng`, `thumbs/`, `deliveries/`, `looks/`, `profiles/`, `found/` with
 * what engines have found in frames, `incoming/` with
 * what each run of the server has not finished writing, `set-aside/` with what the user had moved out of the way.
 */
export class LibraryFolder {
  /** Unfinished files of this run; they appear elsewhere when they are whole. */
  readonly work: string

  constructor(readonly root: string) {
    for (const part of PARTS) mkdirSync(join(root, part), { recursive: true })
    this.work = join(root, 'incoming', `run-${randomUUID()}`)
    mkdirSync(this.work)
  }

  get database(): string {
    return join(this.root, 'library.db')
  }

  get deliveries(): string {
    return join(this.root, 'deliveries')
  }

  get originals(): string {
    return join(this.root, 'originals')
  }

  get incoming(): string {
    return join(this.root, 'incoming')
  }

  original(hash: string, ending: string): string {
    return join(this.root, originalPlace(hash, ending))
  }

  /** A table of colours by its hash. */
  look(hash: string): string {
    return join(this.root, 'looks', `${hash}.cube`)
  }

  get profiles(): string {
    return join(this.root, 'profiles')
  }

  /** A frame's stored thumbnail: of its development, or of the picture that its file brings. */
  thumb(frameId: string, of: 'development' | 'file'): string {
    return join(this.root, 'thumbs', frameId.slice(0, 2), frameId + (of === 'file' ? '.file.jpg' : '.jpg'))
  }

  /** What was found in a frame. */
  finds(frameId: string): string {
    return join(this.root, 'found', frameId.slice(0, 2), frameId)
  }

  /** Removes all that was made of a frame and can be made anew. */
  async forgetMade(frameId: string): Promise<void> {
    await rm(this.thumb(frameId, 'development'), { force: true })
    await rm(this.thumb(frameId, 'file'), { force: true })
    await rm(this.finds(frameId), { recursive: true, force: true })
  }

  /** Moves a file out of the way without removing it. @returns where it is now, from the library's folder */
  setAside(path: string): string {
    const folder = join(this.root, 'set-aside')
    mkdirSync(folder, { recursive: true })
    const bare = basename(path, extname(path))
    let name = basename(path)
    for (let n = 2; existsSync(join(folder, name)); n++) name = `${bare} (${n})${extname(path)}`
    renameSync(path, join(folder, name))
    const sidecar = placeInLibrary(path)
    if (existsSync(sidecar)) renameSync(sidecar, placeInLibrary(join(folder, name)))
    return join('set-aside', name)
  }

  /**
   * Removes what former runs of the server were still writing when they were stopped. Only their own folders are
   * looked into; nobody was told that anything in them is safe.
   */
  sweepRuns(): void {
    for (const entry of readdirSync(this.incoming, { withFileTypes: true })) {
      const run = join(this.incoming, entry.name)
      if (!entry.isDirectory() || !RUN.test(entry.name) || run === this.work) continue
      for (const file of readdirSync(run, { withFileTypes: true }))
        if (file.isFile()) rmSync(join(run, file.name))
      if (readdirSync(run).length === 0) rmdirSync(run)
    }
  }

  /** Removes the folder of this run. */
  close(): void {
    try {
      rmdirSync(this.work)
    } catch {
      // something in it is still being written, or was: the next start sweeps it
    }
  }
}

/** Where an original lies, from the folder of a library or of a backup. */
export const originalPlace = (hash: string, ending: string): string =>
  join('originals', hash.slice(0, 2), hash + ending)

/** Makes the folder of a file that is to be written. */
export const makeRoomFor = (path: string): void => void mkdirSync(dirname(path), { recursive: true })

/** Makes sure, before anything else happens, that the names in a folder outlive a loss of power. */
export function syncFolderNow(path: string): void {
  const folder = openSync(path, 'r')
  try {
    fsyncSync(folder)
  } finally {
    closeSync(folder)
  }
}
