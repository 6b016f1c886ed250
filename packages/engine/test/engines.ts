import { readDevelopment, type Development } from '@dunkelkammer/core'
import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { createEngine, type Engine } from '../src/node'
import { builtEngineFiles } from '../src/paths'

export const demoFile = fileURLToPath(new URL('../../demo/frames/HM0417.dng', import.meta.url))
export const demoBytes = () => new Uint8Array(readFileSync(demoFile))

export const testEngine = (options?: { workers?: number; shared?: boolean }): Engine =>
  createEngine(builtEngineFiles(), options)

export const settings = (part: unknown = {}): Development => readDevelopment(part)

export const whole = (p: { width: number; height: number }) => ({
  width: p.width,
  height: p.height,
  region: { x: 0, y: 0, width: p.width, height: p.height },
})

/** Peak signal to noise ratio of two 8-bit pictures. */
export function psnr8(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let sum = 0
  for (let i = 0; i < a.length; i++) sum += (a[i] - b[i]) ** 2
  return 10 * Math.log10((255 * 255 * a.length) / sum)
}

export function withoutAlpha(rgba: ArrayLike<number>): Uint8Array {
  const out = new Uint8Array((rgba.length / 4) * 3)
  for (let i = 0; i < out.length; i++) out[i] = rgba[Math.floor(i / 3) * 4 + (i % 3)]
  return out
}
