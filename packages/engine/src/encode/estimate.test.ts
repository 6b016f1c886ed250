import { DeliverySchema, readDevelopment } from '@dunkelkammer/core'
import { readFileSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { delivered } from '../../test/delivered'
import { demoFile, testEngine } from '../../test/engines'
import type { Engine } from '../index'
import { estimateFile } from './estimate'

let engine: Engine
beforeAll(() => (engine = testEngine({ workers: 2 })))
afterAll(() => engine.stop())

const development = readDevelopment({ steps: { noise: { mode: 'automatic' }, exposure: { ev: 0.5 } } })

const FORMATS = [
  { format: { kind: 'jpeg', quality: 92 } },
  { format: { kind: 'jpeg', quality: 80 }, size: { by: 'long edge', pixels: 900 } },
  { format: { kind: 'tiff', bits: 16, compression: 'deflate' } },
  { format: { kind: 'tiff', bits: 8, compression: 'none' } },
  { format: { kind: 'png', bits: 8 } },
  { format: { kind: 'webp' } },
  { format: { kind: 'dng' } },
] as const

describe('the expected size of a file', () => {
  it.each(['HM0417', 'HM0405'])('is within a fifth of what it is: %s', async (name) => {
    const picture = await engine.open(new Uint8Array(readFileSync(demoFile.replace('HM0417', name))))
    for (const part of FORMATS) {
      const { bytes: expected } = await estimateFile(picture, development, DeliverySchema.parse(part))
      const file = await delivered(picture, development, part)
      expect(Math.abs(expected / file.length - 1), JSON.stringify(part)).toBeLessThan(0.2)
    }
    engine.close(picture)
  })
})
