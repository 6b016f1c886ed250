import { cameraFile, veldrom } from '@dunkelkammer/demo'
import { beforeAll, describe, expect, it } from 'vitest'
import { fillRaster, floatsAt, random, sampleAt, testBench } from '../../test/bench'
import type { Kernels } from '../kernels/kernels'
import { address, rasterBytes, strideFor, type Raster, type Scratch } from '../memory'
import { readDng } from '../raw'
import { readDevelopment } from '../settings'
import { loadWindow } from './load'
import { describePicture, type OpenPicture } from './picture'
import { makePlan } from './plan'
import { Runner } from './runner'

let kernels: Kernels
let own: Scratch
let runner: Runner
let next: number
beforeAll(async () => {
  ;({ kernels, scratch: own } = await testBench(256))
  // the runner takes its own scratch back before each task: give it the upper half
  const { memory } = own
  const { Scratch } = await import('../memory')
  runner = new Runner(kernels, new Scratch(memory, 128 << 20, 120 << 20))
  next = 4 << 20
})

const room = (shape: Omit<Raster, 'offset'>): Raster => {
  const offset = next
  next += (rasterBytes(shape) + 255) & ~63
  return { ...shape, offset }
}

const WIDTH = 150
const HEIGHT = 94

/** A small noisy picture, its mosaic decoded into memory through the runner. */
function open(pattern: readonly number[] = [1, 2, 0, 1]): OpenPicture {
  const draw = random(17)
  const mosaic = Uint16Array.from({ length: WIDTH * HEIGHT }, (_, i) =>
    Math.round(600 + 6000 * (0.5 + 0.4 * Math.sin((i % WIDTH) * 0.3)) + draw() * 900),
  )
  const file = cameraFile(veldrom, { width: WIDTH, height: HEIGHT }, mosaic, [1, 1, 1], {
    pattern,
    asShotNeutral: [0.52, 1, 0.71],
    compression: 'lossless-jpeg',
    tile: 64,
  })
  const frame = readDng(file)
  const fileOffset = next
  next += (file.length + 127) & ~63
  new Uint8Array(own.memory.buffer, fileOffset, file.length).set(file)
  const raster = room({ width: WIDTH, height: HEIGHT, stride: strideFor(WIDTH), planes: 1, format: 'u16' })
  const { storage } = frame
  for (const segment of frame.segments)
    runner.run({
      kind: 'decode',
      fileOffset,
      segment,
      storage,
      sensor: raster,
      table: 0,
      tableSize: 0,
    })
  const decoded = new Uint16Array(own.memory.buffer, raster.offset, raster.stride * HEIGHT)
  for (let y = 0; y < HEIGHT; y++)
    expect([...decoded.subarray(y * raster.stride, y * raster.stride + WIDTH)]).toEqual([
      ...mosaic.subarray(y * WIDTH, (y + 1) * WIDTH),
    ])
  return describePicture(1, frame, raster)
}

function develop(picture: OpenPicture, tile: number): Raster {
  const target = room({ width: WIDTH, height: HEIGHT, stride: strideFor(WIDTH), planes: 3, format: 'f16' })
  const { develop: steps } = makePlan(readDevelopment({}), 'srgb')
  for (let y = 0; y < HEIGHT; y += tile)
    for (let x = 0; x < WIDTH; x += tile) {
      const region = { x, y, width: Math.min(tile, WIDTH - x), height: Math.min(tile, HEIGHT - y) }
      runner.run({ kind: 'develop', picture, steps, region, target })
    }
  return target
}

const halves = (r: Raster, plane: number, y: number) =>
  Buffer.from(new Uint8Array(own.memory.buffer, address(r, plane, 0, y), r.width * 2).slice())

describe('runner', () => {
  const six = [
    ...[1, 1, 0, 1, 1, 2, 1, 1, 2, 1, 1, 0, 2, 0, 1, 0, 2, 1],
    ...[1, 1, 2, 1, 1, 0, 1, 1, 0, 1, 1, 2, 0, 2, 1, 2, 0, 1],
  ]
  it.each([
    ['2 x 2', [1, 2, 0, 1], [32, 48, 64]],
    ['6 x 6', six, [30, 48, 66]],
  ])(
    'develops the same bits however the picture is cut into tiles, pattern of %s',
    (_name, pattern, tiles) => {
      const picture = open(pattern)
      const whole = develop(picture, 256)
      for (const tile of tiles) {
        const cut = develop(picture, tile)
        for (let p = 0; p < 3; p++)
          for (let y = 0; y < HEIGHT; y++) expect(halves(cut, p, y).equals(halves(whole, p, y))).toBe(true)
      }
    },
  )

  it('delivers the same bits however the bands are cut, also when made smaller', () => {
    const picture = open()
    const source = develop(picture, 256)
    const { render: steps } = makePlan(readDevelopment({ steps: { exposure: { ev: 0.5 } } }), 'srgb')
    for (const [width, height] of [
      [WIDTH, HEIGHT],
      [61, 38],
      [9, 6],
      [1, 1],
    ]) {
      const deliver = (lines: number) => {
        const target = next
        const out = new Uint8Array(own.memory.buffer, target, width * height * 3)
        out.fill(7)
        for (let from = 0; from < height; from += lines) {
          const to = Math.min(from + lines, height)
          const at = target + from * width * 3
          runner.run({
            kind: 'deliver',
            kernel: 'cubic',
            picture,
            steps,
            space: 'srgb',
            source,
            width,
            height,
            bits: 8,
            from,
            to,
            target: at,
          })
        }
        return Buffer.from(out.slice())
      }
      const truth = deliver(height)
      expect(deliver(16).equals(truth)).toBe(true)
      expect(deliver(5).equals(truth)).toBe(true)
    }
  })

  it('lets a step in by its strength', () => {
    const picture = open()
    const source = develop(picture, 256)
    const light = (part: object) => {
      const { render: steps } = makePlan(readDevelopment(part), 'linear-rec2020')
      const target = next
      const size = { width: WIDTH, height: HEIGHT, from: 40, to: 41 }
      runner.run({
        kind: 'deliver',
        kernel: 'cubic',
        picture,
        steps,
        space: 'linear-rec2020',
        source,
        bits: 16,
        target,
        ...size,
      })
      return [...new Uint16Array(own.memory.buffer, target, WIDTH * 3)]
    }
    const none = light({})
    const full = light({ steps: { exposure: { ev: -1 } } })
    const half = light({ steps: { exposure: { ev: -1 } }, strength: { exposure: 0.5 } })
    const over = light({ steps: { exposure: { ev: -1 } }, strength: { exposure: 1.5 } })
    none.forEach((v, i) => {
      expect(Math.abs(full[i] - v / 2)).toBeLessThanOrEqual(1)
      expect(Math.abs(half[i] - v * 0.75)).toBeLessThanOrEqual(1)
      expect(Math.abs(over[i] - v * 0.25)).toBeLessThanOrEqual(1)
    })
  })

  it('samples the mean around a place, held inside the picture', () => {
    const picture = open()
    const source = develop(picture, 256)
    const value = (c: number, x: number, y: number) => {
      const at = own.mark()
      const out = own.take(16)
      kernels.f16_to_f32(address(source, c, x, y) - (address(source, c, x, y) % 8), out, 4)
      const v = floatsAt(own, out, 4)[(address(source, c, x, y) % 8) / 2]
      own.release(at)
      return v
    }
    for (const [x, y] of [
      [70, 40],
      [0, 0],
      [WIDTH - 1, HEIGHT - 1],
    ]) {
      const mean = runner.run({ kind: 'sample', source, x, y, radius: 2 })
      const left = Math.min(Math.max(x - 2, 0), WIDTH - 5)
      const top = Math.min(Math.max(y - 2, 0), HEIGHT - 5)
      for (let c = 0; c < 3; c++) {
        let sum = 0
        for (let j = 0; j < 5; j++) for (let i = 0; i < 5; i++) sum += value(c, left + i, top + j)
        expect(mean[c]).toBeCloseTo(sum / 25, 5)
      }
    }
    expect(picture.context.balance[1]).toBe(1)
  })
})

describe('a window of a kept picture', () => {
  it('repeats the edge beyond the picture', () => {
    own.release()
    const source = fillRaster(own, 20, 10, 2, (p, x, y) => p * 1000 + y * 100 + Math.min(x, 19))
    const window = loadWindow(kernels, own, source, -4, -3, 28, 16)
    const hold = (v: number, n: number) => Math.min(Math.max(v, 0), n - 1)
    for (let p = 0; p < 2; p++)
      for (let y = 0; y < 16; y++)
        for (let x = 0; x < 28; x++)
          expect(sampleAt(own, window, p, x, y)).toBe(p * 1000 + hold(y - 3, 10) * 100 + hold(x - 4, 20))
  })
})
