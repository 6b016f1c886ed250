import { open } from 'node:fs/promises'

/** Bytes offset .. offset + length of a file. */
export async function readRange(path: string, offset: number, length: number): Promise<Uint8Array> {
  const file = await open(path)
  try {
    const bytes = new Uint8Array(length)
    await file.read(bytes, 0, length, offset)
    return bytes
  } finally {
    await file.close()
  }
}
