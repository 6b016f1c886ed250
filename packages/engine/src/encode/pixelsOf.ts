import { developedSize, readDng } from '@dunkelkammer/core'
import { readFile } from 'node:fs/promises'
import sharp from 'sharp'
import { identify } from '../formats'

/**
 * How many pixels a file has, without developing any; where only its maker's format says it, its bytes stand for them.
 * @throws where it cannot be read
 */
export async function pixelsOf(path: string): Promise<number> {
  const bytes = new Uint8Array(await readFile(path))
  try {
    const { width, height } =
      identify(bytes) === 'dng' ? developedSize(readDng(bytes)) : await sharp(bytes).metadata()
    return width * height || bytes.length
  } catch {
    return bytes.length
  }
}
