import { createHash, randomUUID } from 'node:crypto'
import { constants, existsSync, mkdirSync, readdirSync, rmSync } from 'node:fs'
import { copyFile, open, readFile, rename, rm, stat } from 'node:fs/promises'
import { join } from 'node:path'
import type { Readable } from 'node:stream'
import { PARTIAL } from '@dunkelkammer/engine/encode'
import { HttpProblem } from '../problem'

/** Largest original taken in: 100 megapixels uncompressed and room for previews. */
export const MAX_ORIGINAL = 300 * 2 ** 20

/** A file that has been received but does not belong to the library yet, or one that stays where it is. */
export interface Received {
  path: string
  hash: string
  size: number
  /** It is not the library's: it is neither moved nor removed. */
  inPlace?: boolean
  /** Its content, where it has been read anyway. */
  bytes?: Uint8Array
}

/** The library's folder: `library.db`, `originals/ab/abcd….dng`, `thumbs/`, `deliveries/`, `incoming/`, `looks/`. */
export class LibraryFolder {
  constructor(readonly root: string) {
    for (const part of ['originals', 'thumbs', 'deliveries', 'incoming', 'looks'])
      mkdirSync(join(root, part), { recursive: true })
  }

  get database(): string {
    return join(this.root, 'library.db')
  }

  get deliveries(): string {
    return join(this.root, 'deliveries')
  }

  original(hash: string, ending: string): string {
    return join(this.root, 'originals', hash.slice(0, 2), hash + ending)
  }

  /** A table of colours by its hash. */
  look(hash: string): string {
    return join(this.root, 'looks', `${hash}.cube`)
  }

  /** A frame's stored thumbnail: of its development, or of the picture that its file brings. */
  thumb(frameId: string, of: 'development' | 'file'): string {
    return join(this.root, 'thumbs', frameId.slice(0, 2), frameId + (of === 'file' ? '.file.jpg' : '.jpg'))
  }

  /**
   * Takes in a stream of bytes, hashed on the way and safely on the disk when done.
   * @throws HttpProblem where it is empty or larger than any original
   */
  async receive(source: Readable): Promise<Received> {
    const path = join(this.root, 'incoming', randomUUID())
    const file = await open(path, 'wx')
    try {
      const { hash, size } = await hashed(source, (chunk) => file.write(chunk))
      await file.sync()
      await file.close()
      return { path, hash, size }
    } catch (error) {
      await file.close().catch(() => undefined)
      await rm(path, { force: true })
      throw error
    }
  }

  /** Copies a file of this machine in; the kernel does it, and it is read once. */
  async receiveFile(from: string): Promise<Received> {
    await checkLength(from)
    const path = join(this.root, 'incoming', randomUUID())
    try {
      await copyFile(from, path, constants.COPYFILE_FICLONE)
      const file = await open(path, 'r+')
      try {
        await file.sync()
      } finally {
        await file.close()
      }
      return await read(path)
    } catch (error) {
      await rm(path, { force: true })
      throw error
    }
  }

  /** Looks at a file that stays where it is. */
  async lookAt(path: string): Promise<Received> {
    await checkLength(path)
    return { ...(await read(path)), inPlace: true }
  }

  /** Gives a received file its place; the same content twice is one file. */
  async keep(received: Received, ending: string): Promise<void> {
    if (received.inPlace) return
    const target = this.original(received.hash, ending)
    mkdirSync(join(target, '..'), { recursive: true })
    if (existsSync(target) && (await stat(target)).size === received.size) await rm(received.path)
    else await rename(received.path, target)
  }

  async discard(received: Received): Promise<void> {
    if (!received.inPlace) await rm(received.path, { force: true })
  }

  async forgetThumbs(frameId: string): Promise<void> {
    await rm(this.thumb(frameId, 'development'), { force: true })
    await rm(this.thumb(frameId, 'file'), { force: true })
  }

  /** Removes what a stopped server left half done: received files, half-written deliveries, originals without a frame. */
  sweep(known: ReadonlySet<string>): void {
    for (const name of readdirSync(join(this.root, 'incoming'))) rmSync(join(this.root, 'incoming', name))
    for (const name of readdirSync(this.deliveries))
      if (name.endsWith(PARTIAL)) rmSync(join(this.deliveries, name))
    for (const part of readdirSync(join(this.root, 'originals')))
      for (const name of readdirSync(join(this.root, 'originals', part)))
        if (!known.has(name.replace(/\..*$/, ''))) rmSync(join(this.root, 'originals', part, name))
  }
}

const EMPTY = new HttpProblem(422, 'damaged', 'This file is empty.')
const TOO_LARGE = new HttpProblem(413, 'too-large', `This file is larger than ${MAX_ORIGINAL / 2 ** 20} MB.`)

async function checkLength(path: string): Promise<void> {
  const { size } = await stat(path)
  if (size === 0) throw EMPTY
  if (size > MAX_ORIGINAL) throw TOO_LARGE
}

async function read(path: string): Promise<Received> {
  const bytes = await readFile(path)
  return { path, bytes, size: bytes.length, hash: createHash('sha256').update(bytes).digest('hex') }
}

async function hashed(
  source: Readable,
  each: (chunk: Buffer) => Promise<unknown>,
): Promise<{ hash: string; size: number }> {
  const hash = createHash('sha256')
  let size = 0
  for await (const chunk of source as AsyncIterable<Buffer>) {
    size += chunk.length
    if (size > MAX_ORIGINAL) throw TOO_LARGE
    hash.update(chunk)
    await each(chunk)
  }
  if (size === 0) throw EMPTY
  return { hash: hash.digest('hex'), size }
}
