import { createHash, randomUUID } from 'node:crypto'
import { createReadStream, existsSync, mkdirSync, readdirSync, rmSync } from 'node:fs'
import { open, rename, rm, stat } from 'node:fs/promises'
import { join } from 'node:path'
import type { Readable } from 'node:stream'
import { PARTIAL } from '@dunkelkammer/engine/encode'
import { HttpProblem } from '../problem'

/** Largest original taken in: 100 megapixels uncompressed and room for previews. */
export const MAX_ORIGINAL = 300 * 2 ** 20

/** A file that has been received but does not belong to the library yet. */
export interface Received {
  path: string
  hash: string
  size: number
}

/** The library's folder: `library.db`, `originals/ab/abcd….dng`, `deliveries/`, `incoming/`. */
export class LibraryFolder {
  constructor(readonly root: string) {
    for (const part of ['originals', 'deliveries', 'incoming'])
      mkdirSync(join(root, part), { recursive: true })
  }

  get database(): string {
    return join(this.root, 'library.db')
  }

  get deliveries(): string {
    return join(this.root, 'deliveries')
  }

  original(hash: string): string {
    return join(this.root, 'originals', hash.slice(0, 2), `${hash}.dng`)
  }

  /**
   * Takes in a stream of bytes, hashed on the way and safely on the disk when done.
   * @throws HttpProblem where it is empty or larger than any original
   */
  async receive(source: Readable): Promise<Received> {
    const path = join(this.root, 'incoming', randomUUID())
    const hash = createHash('sha256')
    let size = 0
    const file = await open(path, 'wx')
    try {
      for await (const chunk of source as AsyncIterable<Buffer>) {
        size += chunk.length
        if (size > MAX_ORIGINAL)
          throw new HttpProblem(413, 'too-large', `This file is larger than ${MAX_ORIGINAL / 2 ** 20} MB.`)
        hash.update(chunk)
        await file.write(chunk)
      }
      if (size === 0) throw new HttpProblem(422, 'damaged', 'This file is empty.')
      await file.sync()
    } catch (error) {
      await file.close()
      await rm(path, { force: true })
      throw error
    }
    await file.close()
    return { path, hash: hash.digest('hex'), size }
  }

  receiveFile(path: string): Promise<Received> {
    return this.receive(createReadStream(path))
  }

  /** Gives a received file its place; the same content twice is one file. */
  async keep(received: Received): Promise<void> {
    const target = this.original(received.hash)
    mkdirSync(join(target, '..'), { recursive: true })
    if (existsSync(target) && (await stat(target)).size === received.size) await rm(received.path)
    else await rename(received.path, target)
  }

  discard(received: Received): Promise<void> {
    return rm(received.path, { force: true })
  }

  /** Removes what a stopped server left half done: received files, half-written deliveries, originals without a frame. */
  sweep(known: ReadonlySet<string>): void {
    for (const name of readdirSync(join(this.root, 'incoming'))) rmSync(join(this.root, 'incoming', name))
    for (const name of readdirSync(this.deliveries))
      if (name.endsWith(PARTIAL)) rmSync(join(this.deliveries, name))
    for (const part of readdirSync(join(this.root, 'originals')))
      for (const name of readdirSync(join(this.root, 'originals', part)))
        if (!known.has(name.replace(/\.dng$/, ''))) rmSync(join(this.root, 'originals', part, name))
  }
}
