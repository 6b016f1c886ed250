import { open } from 'node:fs/promises'

/** Bytes offset .. offset + length of a file, fewer where it ends before. */
export async function readRange(path: string, offset: number, length: number): Promise<Uint8Array> {
  const file = await open(path)
  try {
    const bytes = new Uint8Array(Math.min(length, Math.max((await file.stat()).size - offset, 0)))
    let at = 0
    while (at < bytes.length) {
      const { bytesRead } = await file.read(bytes, at, bytes.length - at, offset + at)
      if (bytesRead === 0) break
      at += bytesRead
    }
    return bytes.subarray(0, at)
  } finally {
    await file.close()
  }
}
