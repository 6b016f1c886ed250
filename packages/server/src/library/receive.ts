import { MAX_KEPT } from '@dunkelkammer/contract'
import { writeAll } from '@dunkelkammer/engine/encode'
import { createHash, randomUUID } from 'node:crypto'
import { constants, type Stats } from 'node:fs'
import { open, rm, type FileHandle } from 'node:fs/promises'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import { HttpProblem } from '../problem'

/** Largest original that is developed: 100 megapixels uncompressed and room for previews. */
/** Format of a file that is kept in the library but too large to be developed. */
export const KEPT = 'kept'

export const MAX_DEVELOPED = 300 * 2 ** 20
const CHUNK = 1 << 20

/** A file that has been looked at and does not belong to the library yet. */
export interface Received {
  path: string
  hash: string
  size: number
  /** Of the file as it was hashed, see `stampOf`. */
  stamp: string
  /** Whose it is: written by us this moment, the user's own which stays where it is, or found in the library's folder. */
  of: 'us' | 'user' | 'library'
}

const EMPTY = () => new HttpProblem(422, 'damaged', 'This file is empty.')
export const tooLarge = () =>
  new HttpProblem(413, 'too-large', `This file is larger than ${MAX_KEPT / 2 ** 30} GB.`)

/**
 * Takes in a stream of bytes, hashed on the way and safely on the disk when done.
 * @param work folder for files that are not finished
 * @throws HttpProblem where it is empty or larger than any original
 */
export async function receive(source: AsyncIterable<Uint8Array> | Readable, work: string): Promise<Received> {
  const path = join(work, randomUUID())
  const file = await open(path, 'wx')
  try {
    // a failure here must not cut the connection: the sender is owed an answer
    const chunks = source instanceof Readable ? source.iterator({ destroyOnReturn: false }) : source
    const { hash, size } = await hashOf(chunks, (chunk) => writeAll(file, chunk))
    await file.sync()
    const stamp = stampOf(await file.stat())
    await file.close()
    return { path, hash, size, stamp, of: 'us' }
  } catch (error) {
    await file.close().catch(() => undefined)
    await rm(path, { force: true })
    throw error
  }
}

/** Copies a file of this machine in. */
export const receiveFile = (from: string, work: string): Promise<Received> =>
  reading(from, (file) => receive(chunksOf(file), work))

/** Looks at a file that stays where it is. */
export async function lookAt(path: string, of: 'user' | 'library' = 'user'): Promise<Received> {
  return reading(path, async (file, stats) => ({
    path,
    of,
    stamp: stampOf(stats),
    ...(await hashOf(chunksOf(file))),
  }))
}

/** Changes whenever a file is written to or another one takes its place. */
export const stampOf = ({ size, mtimeMs, ino }: Stats): string => `${size} ${mtimeMs} ${ino}`

/** SHA-256 of a file. */
export const hashOfFile = async (path: string): Promise<string> => (await lookAt(path)).hash

/** All of a file and its hash, read once. @throws HttpProblem where it is too large to be held */
export const readHashed = (path: string): Promise<{ bytes: Uint8Array; hash: string }> =>
  reading(path, async (file, { size }) => {
    if (size > MAX_DEVELOPED) throw keptOnly()
    const bytes = new Uint8Array(size)
    let at = 0
    const { hash, size: got } = await hashOf(chunksOf(file), (chunk) => {
      bytes.set(chunk.subarray(0, Math.max(size - at, 0)), at)
      at += chunk.length
    })
    if (got !== size) throw new HttpProblem(409, 'changed', 'This file changed while it was being read.')
    return { bytes, hash }
  })

export const keptOnly = () =>
  new HttpProblem(
    422,
    'kept-only',
    `This file is larger than ${MAX_DEVELOPED / 2 ** 20} MB: it is kept in the library but cannot be developed.`,
  )

/** Opens a plain file; a pipe or device would keep a reader waiting for good. */
async function reading<T>(path: string, use: (file: FileHandle, stats: Stats) => Promise<T>): Promise<T> {
  const file = await open(path, constants.O_RDONLY | constants.O_NONBLOCK)
  try {
    const stats = await file.stat()
    if (!stats.isFile()) throw new HttpProblem(422, 'not-raw', 'This is not a file.')
    if (stats.size === 0) throw EMPTY()
    if (stats.size > MAX_KEPT) throw tooLarge()
    return await use(file, stats)
  } finally {
    await file.close()
  }
}

async function* chunksOf(file: FileHandle): AsyncGenerator<Uint8Array> {
  const chunk = new Uint8Array(CHUNK)
  for (;;) {
    const { bytesRead } = await file.read(chunk, 0, CHUNK, null)
    if (bytesRead === 0) return
    yield chunk.subarray(0, bytesRead)
  }
}

async function hashOf(
  source: AsyncIterable<Uint8Array>,
  each: (chunk: Uint8Array) => Promise<unknown> | void = () => undefined,
): Promise<{ hash: string; size: number }> {
  const hash = createHash('sha256')
  let size = 0
  for await (const chunk of source) {
    size += chunk.length
    if (size > MAX_KEPT) throw tooLarge()
    hash.update(chunk)
    await each(chunk)
  }
  if (size === 0) throw EMPTY()
  return { hash: hash.digest('hex'), size }
}

/** Removes a received file that is not needed: only one that we have written this moment. */
export async function discard(received: Received): Promise<void> {
  if (received.of === 'us') await rm(received.path, { force: true })
}
