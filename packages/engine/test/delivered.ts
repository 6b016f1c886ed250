import {
  DeliverySchema,
  iccProfile,
  spaces,
  type DeliveryInput,
  type Development,
  type PictureFormat,
  type SpaceId,
} from '@dunkelkammer/core'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { deliverFile, SINKS, type Beside, type Carried } from '../src/encode'
import type { Picture } from '../src/host/picture'

async function throughDisk(make: (path: string) => Promise<unknown>): Promise<Uint8Array<ArrayBuffer>> {
  const folder = mkdtempSync(join(tmpdir(), 'dunkelkammer-'))
  try {
    const path = join(folder, 'made')
    await make(path)
    return Uint8Array.from(readFileSync(path))
  } finally {
    rmSync(folder, { recursive: true })
  }
}

/** The bytes of the file that a delivery makes. */
export const delivered = (
  picture: Picture,
  development: Development,
  delivery: Partial<DeliveryInput>,
  beside: Beside = {},
): Promise<Uint8Array<ArrayBuffer>> =>
  throughDisk((path) => deliverFile(picture, development, DeliverySchema.parse(delivery), path, beside))

export interface EncodedPicture extends Carried {
  format: PictureFormat
  bits?: 8 | 16
  space?: SpaceId
  width: number
  height: number
  ppi?: number
}

/** Pixels as the bytes of a file. */
export const encoded = (
  pixels: Uint8Array,
  { format, bits = 8, space = 'srgb', ppi = 300, ...more }: EncodedPicture,
): Promise<Uint8Array<ArrayBuffer>> =>
  throughDisk(async (path) => {
    const { label } = spaces[space]
    const sink = await SINKS[format.kind]({
      ...{ path, format, bits, icc: iccProfile(spaces[space]), label, ppi },
      ...more,
    })
    // in lots that end nowhere in particular, as bands do
    const line = (more.width * 3 * bits) / 8
    for (let at = 0; at < pixels.length; at += 5 * line) await sink.write(pixels.subarray(at, at + 5 * line))
    await sink.close()
  })
