import {
  angularError,
  automaticWhite,
  estimateWhite,
  greyWorld,
  kelvinFromXy,
  neutralFromXy,
  toOklab,
  working,
  xyFromKelvin,
  xyFromNeutral,
  type SmallPicture,
  type Triple,
} from '@dunkelkammer/core'
import { CHART, daylight, glowing, NEUTRAL_PATCH, signalsOf, times, veldrom } from '@dunkelkammer/demo'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { CHART_HEIGHT, CHART_WIDTH, chartFile, patchMean } from '../test/chart'
import jpeg from 'jpeg-js'
import { demoBytes, settings, testEngine } from '../test/engines'
import { automatic, type Engine } from './index'

let engine: Engine
beforeAll(() => {
  engine = testEngine({ workers: 2 })
})
afterAll(() => engine.stop())

const place = (patch: number) => ({ x: ((patch % 6) + 0.5) / 6, y: (Math.floor(patch / 6) + 0.5) / 4 })

describe('white balance', () => {
  it.each([
    ['tungsten', 2900, 100],
    ['daylight65', 6504, 200],
  ] as const)('by a grey finds the lamp that was put in: %s', async (lamp, kelvin, within) => {
    const picture = await engine.open(chartFile(lamp, 0.5))
    const { x, y } = place(NEUTRAL_PATCH)
    const sample = await picture.ask('sample', settings({}), x, y, 6)
    const found = kelvinFromXy(xyFromNeutral(picture.frame.colour, sample))
    expect(Math.abs(found.kelvin - kelvin)).toBeLessThan(within)
    engine.close(picture)
  })

  it('by itself errs less than the mean of the picture, over ten scenes of mixed things', async () => {
    const picture = await engine.open(chartFile('daylight65', 0.5))
    const { colour } = picture.frame
    let seed = 7
    const next = () => ((seed = (seed * 1103515245 + 12345) & 0x7fffffff) >>> 8) / 0x7fffff
    const ours: number[] = []
    const worlds: number[] = []
    for (let scene = 0; scene < 10; scene++) {
      const lamp = scene % 2 ? daylight(4500 + 500 * scene) : glowing(2600 + 250 * scene)
      const rgb = new Float32Array(64 * 48 * 3)
      // a few things fill most of the picture, as a meadow or a brick wall does; three of the scenes hold no grey
      const shares = CHART.map(({ kind }) => (scene >= 7 && kind === 'grey' ? 0 : next() ** 3))
      const all = shares.reduce((a, b) => a + b, 0)
      const tones = CHART.map(({ reflectance }) => signalsOf(veldrom.curves, times(reflectance, lamp)))
      const white = signalsOf(veldrom.curves, lamp)
      for (let i = 0; i < 64 * 48; i += 16) {
        let at = next() * all
        let k = 0
        while (k < CHART.length - 1 && at > shares[k]) at -= shares[k++]
        // patches of sixteen pixels, lit more or less, with a little noise
        const light = 0.15 + 0.7 * next()
        for (let j = 0; j < 16; j++)
          for (let c = 0; c < 3; c++)
            rgb[3 * (i + j) + c] = (tones[k][c] / Math.max(...white)) * light * (0.97 + 0.06 * next())
      }
      const small: SmallPicture = { width: 64, height: 48, rgb }
      ours.push(angularError(estimateWhite(small, colour), white))
      worlds.push(angularError(greyWorld(small), white))
    }
    const median = (v: number[]) =>
      [...v]
        .sort((a, b) => a - b)
        .slice(4, 6)
        .reduce((a, b) => a + b, 0) / 2
    console.info(
      `median angular error ${median(ours).toFixed(2)}, grey-world ${median(worlds).toFixed(2)} degrees`,
    )
    expect(median(ours)).toBeLessThan(median(worlds))
    expect(median(ours)).toBeLessThan(5)
    engine.close(picture)
  })

  it('by itself stays with the camera’s word, and leaves it where that was grossly wrong', async () => {
    const picture = await engine.open(chartFile('tungsten', 0.5))
    const { colour } = picture.frame
    const kelvin = async (p: typeof picture, strength = 1) =>
      (await automatic(p, settings({}), ['white'], strength)).steps.cameraColour.kelvin
    // taken under the lamp that it names: its own word, whatever was set before
    const taken = kelvinFromXy(xyFromNeutral(colour, colour.asShotNeutral)).kelvin
    expect(Math.abs((await kelvin(picture)) - taken)).toBeLessThanOrEqual(5)
    const set = settings({ steps: { cameraColour: { source: 'kelvin', kelvin: 9000 } } })
    const { cameraColour } = (await automatic(picture, set, ['white'], 1)).steps
    expect(Math.abs(cameraColour.kelvin - taken)).toBeLessThanOrEqual(5)
    engine.close(picture)
    // greys under a lamp, taken as if by day
    const wrong = await engine.open(chartFile('tungsten', 0.5))
    const lamp = wrong.frame.colour.asShotNeutral
    const day = neutralFromXy(wrong.frame.colour, xyFromKelvin(6500, 0))
    const n = 64 * 48
    const rgb = Float32Array.from({ length: 3 * n }, (_, i) => {
      const k = Math.floor(i / 3)
      // half of it greys of all brightnesses, the other half red, green and blue things
      const thing = k % 2 ? 1 : [2.2, 0.6, 0.4][(k / 2 + i) % 3]
      return lamp[i % 3] * thing * (0.1 + (0.3 * (k % 37)) / 37)
    })
    const small: SmallPicture = { width: 64, height: 48, rgb }
    const found = automaticWhite(small, { ...wrong.frame.colour, asShotNeutral: day })
    expect(angularError(found, lamp)).toBeLessThan(angularError(day, lamp) / 3)
    // a picture of one warm thing is no reason
    const bricks: SmallPicture = {
      ...small,
      rgb: rgb.map((_, i) => day[i % 3] * [1.6, 0.8, 0.5][i % 3] * (0.1 + (0.3 * (i % 111)) / 111)),
    }
    const kept = automaticWhite(bricks, { ...wrong.frame.colour, asShotNeutral: day })
    expect(angularError(kept, day)).toBeLessThan(0.01)
    engine.close(wrong)
  })
})

describe('skin', () => {
  const deliver = async (part: object) => {
    const picture = await engine.open(chartFile('daylight65', 0.5))
    const size = { width: CHART_WIDTH, height: CHART_HEIGHT }
    const bytes = await picture.deliver({ development: settings(part), space: 'rec2020', ...size, bits: 16 })
    engine.close(picture)
    const values = new Uint16Array(bytes.buffer)
    const { cut, slope, a, p, b } = working.curve
    return CHART.map((_, i) => {
      const linear = patchMean(values, i).map((v) => (v < cut * slope ? v / slope : ((v + b) / a) ** (1 / p)))
      const [, x, y] = toOklab(working, linear as unknown as Triple)
      return Math.hypot(x, y)
    })
  }

  it('is spared when muted colours are raised, other muted colours are not', async () => {
    const before = await deliver({})
    const spared = await deliver({ steps: { colourfulness: { muted: 0.8 } } })
    const all = await deliver({ steps: { colourfulness: { muted: 0.8, spareSkin: 0 } } })
    CHART.forEach(({ kind }, i) => {
      if (kind !== 'skin') return
      expect(spared[i] / before[i]).toBeLessThan(1.06)
      expect(all[i] / before[i]).toBeGreaterThan(1.15)
    })
    const foliage = CHART.findIndex((p) => p.kind === 'foliage')
    const sky = CHART.findIndex((p) => p.kind === 'sky')
    for (const i of [foliage, sky]) expect(spared[i] / before[i]).toBeGreaterThan(1.15)
  })
})

describe('a reading', () => {
  it('says what the sensor saw, what the scene was and what is shown', async () => {
    const picture = await engine.open(chartFile('daylight65', 0.5))
    const { x, y } = place(NEUTRAL_PATCH)
    const { sensor, linear, output, lab } = await picture.ask(
      'read',
      settings({ steps: { exposure: { ev: 1 } } }),
      x,
      y,
      4,
    )
    const plain = await picture.ask('read', settings({}), x, y, 4)
    linear.forEach((v, c) => expect(v).toBeCloseTo(plain.linear[c] * 2, 4))
    sensor.forEach((v, c) => expect(v).toBeCloseTo(plain.sensor[c], 6))
    // the grey that the camera was balanced on
    expect(Math.max(...output) - Math.min(...output)).toBeLessThan(0.005)
    expect(Math.hypot(lab[1], lab[2])).toBeLessThan(0.5)
    const green = signalsOf(veldrom.curves, times(CHART[NEUTRAL_PATCH].reflectance, daylight(6504)))[1]
    expect(sensor[1]).toBeCloseTo((0.5 * green) / signalsOf(veldrom.curves, daylight(6504))[1], 2)
    // Lab by its definition from the encoded output, grey: L from luminance
    const light = ((output[1] + 0.055) / 1.055) ** 2.4
    expect(lab[0]).toBeCloseTo(116 * Math.cbrt(light) - 16, 1)
    engine.close(picture)
  })
})

describe('exposure and tones by themselves', () => {
  it('bring a picture taken two stops too dark up, and see areas of interest first', async () => {
    const dark = await engine.open(chartFile('daylight65', 0.1))
    const bright = await engine.open(chartFile('daylight65', 0.8))
    const ev = async (p: typeof dark, part: object = {}, strength = 1) =>
      (await automatic(p, settings(part), ['exposure'], strength)).steps.exposure.ev
    const lifted = await ev(dark)
    expect(lifted).toBeGreaterThan(0.8)
    expect(await ev(bright)).toBeLessThan(lifted - 0.8)
    expect(await ev(dark, {}, 0.5)).toBeCloseTo(lifted / 2, 1)
    // a dark patch asks for more light than the whole
    const patch = CHART.findIndex((p) => p.name === 'dark skin')
    const { x, y } = place(patch)
    const long = CHART_WIDTH
    const area = {
      x: x - 8 / long,
      y: (y * CHART_HEIGHT) / long - 8 / long,
      width: 20 / long,
      height: 20 / long,
    }
    expect(await ev(dark, { interest: [area, area].slice(0, 1) })).toBeGreaterThan(lifted - 0.001)
    const all = await automatic(dark, settings({}), ['white', 'exposure', 'points', 'tones'], 1)
    expect(all.steps.points.white).not.toBe(3.15)
    expect(all.steps.tones).not.toEqual(settings({}).steps.tones)
    // ordinary settings, nothing else
    expect({ ...all, steps: settings({}).steps }).toEqual(settings({}))
    engine.close(dark)
    engine.close(bright)
  })
})

describe('a raw file with a bright sky', () => {
  it('has drawing in the clouds where the camera’s own JPEG has none, by exposure or by recovery', async () => {
    const bytes = demoBytes()
    const picture = await engine.open(bytes)
    const { preview } = picture.frame
    const { data, width, height } = jpeg.decode(
      bytes.subarray(preview!.offset, preview!.offset + preview!.length),
      {
        useTArray: true,
      },
    )
    const blown: number[] = []
    const dark: number[] = []
    for (let i = 0; i < width * height; i++) {
      const least = Math.min(data[4 * i], data[4 * i + 1], data[4 * i + 2])
      if (least >= 253) blown.push(i)
      else if (data[4 * i + 1] < 60) dark.push(i)
    }
    expect(blown.length).toBeGreaterThan(5000)
    const see = async (steps: object) => {
      const region = { x: 0, y: 0, width, height }
      const { rgba } = await picture.view({ development: settings({ steps }), width, height, region })
      const at = (places: number[]) => places.map((i) => rgba[4 * i + 1]).sort((a, b) => a - b)
      const spread = (v: number[]) => v[Math.floor(0.9 * v.length)] - v[Math.floor(0.1 * v.length)]
      const mean = (v: number[]) => v.reduce((a, b) => a + b, 0) / v.length
      return { clouds: spread(at(blown)), bright: mean(at(blown)), shade: mean(at(dark)) }
    }
    // a darkened JPEG has two levels there at most
    const plain = await see({})
    expect((await see({ exposure: { ev: -2 } })).clouds).toBeGreaterThan(20)
    const recovered = await see({ recovery: { amount: 1 } })
    // to a level: what is brought back is the light as a whole
    expect(recovered.clouds).toBeGreaterThanOrEqual(plain.clouds - 1)
    expect(recovered.clouds).toBeGreaterThan(6)
    expect(recovered.bright).toBeLessThan(plain.bright - 8)
    expect(Math.abs(recovered.shade - plain.shade)).toBeLessThan(0.5)
    engine.close(picture)
  })
})

describe('views after a change', () => {
  it('are the same bits whether the steps before it were kept or not', async () => {
    const picture = await engine.open(chartFile('daylight65', 0.5))
    const part = (colour: number, ev = 0.4) =>
      settings({
        steps: {
          exposure: { ev },
          tones: { shadows: { lift: 1 } },
          curve: {
            all: [
              [0, 0],
              [0.4, 0.45],
              [1, 1],
            ],
          },
          hueNodes: { nodes: [{ hue: 30, width: 60, colour }] },
          tints: { stops: [{ at: 0.3, hue: 200, strength: 0.4 }] },
          edgeBurn: { ev: -1 },
          grain: { strength: 0.5 },
        },
      })
    const size = { width: CHART_WIDTH / 2, height: CHART_HEIGHT / 2 }
    const ask = (d: ReturnType<typeof part>) =>
      picture.view({ development: d, ...size, region: { x: 0, y: 0, ...size } })
    await ask(part(0.1))
    await ask(part(0.2))
    const kept = await ask(part(0.6))
    picture.shed()
    const other = await engine.open(chartFile('daylight65', 0.5))
    const fresh = await other.view({ development: part(0.6), ...size, region: { x: 0, y: 0, ...size } })
    expect(kept.rgba).toEqual(fresh.rgba)
    const again = await ask(part(0.6, 0.9))
    expect(again.rgba).not.toEqual(kept.rgba)
    engine.close(picture)
    engine.close(other)
  })

  it('find the same tones whether the maps were made before the exposure or with it', async () => {
    const part = (ev: number, strength = 1) =>
      settings({
        steps: { exposure: { ev }, evenLighting: { amount: 0.6 }, tones: { shadows: { lift: 1.5 } } },
        strength: { exposure: strength },
      })
    const size = { width: CHART_WIDTH, height: CHART_HEIGHT }
    const region = { x: 0, y: 0, ...size }
    const one = await engine.open(chartFile('daylight65', 0.2))
    // maps from another exposure are there already
    await one.view({ development: part(-0.5), ...size, region })
    const moved = await one.view({ development: part(1), ...size, region })
    const softly = await one.view({ development: part(1.6, 0.5), ...size, region })
    // a file with twice the light needs no exposure: what is found must be the same
    const other = await engine.open(chartFile('daylight65', 0.4))
    const plain = await other.view({ development: part(0), ...size, region })
    const half = await other.view({
      development: part(Math.log2((1 + (2 ** 1.6 - 1) / 2) / 2)),
      ...size,
      region,
    })
    // deep channels of saturated patches have few steps at the sensor: those may differ
    const apart = (a: Uint8ClampedArray, b: Uint8ClampedArray) =>
      a.filter((v, i) => Math.abs(v - b[i]) > 2).length / a.length
    expect(apart(moved.rgba, plain.rgba)).toBeLessThan(0.02)
    expect(apart(softly.rgba, half.rgba)).toBeLessThan(0.02)
    engine.close(one)
    engine.close(other)
  })

  it('of a part at 100 % are the delivery’s own pixels with all steps at work', async () => {
    const picture = await engine.open(chartFile('daylight65', 0.5))
    const development = settings({
      steps: {
        exposure: { ev: 0.5 },
        evenLighting: { amount: 0.5 },
        recovery: { amount: 0.5 },
        tones: { shadows: { lift: 1 }, highlights: { lift: -0.7 } },
        points: { black: -6, white: 2.8 },
        baseRendering: { grade: 3, shoulder: 0.4, toe: 0.3, brightness: 0.2 },
        primaries: { red: { turn: 5 } },
        curve: {
          luminance: [
            [0, 0.02],
            [0.4, 0.45],
            [1, 1],
          ],
          blue: [
            [0, 0.05],
            [1, 1],
          ],
        },
        rangeCurve: { all: { middle: 0.4 } },
        hueNodes: { nodes: [{ hue: 30, width: 60, shift: 10, light: -0.4 }] },
        colourfulness: { all: 0.2, muted: 0.3 },
        tints: { stops: [{ at: 0.3, hue: 200, strength: 0.4 }] },
        toning: { toner: 'gold' },
        look: { kind: 'own', id: 'oil-lamp', name: 'Oil lamp' },
        edgeBurn: { ev: -1 },
        grain: { strength: 0.5 },
      },
      strength: { look: 0.7, curve: 1.3, baseRendering: 0.8 },
    })
    const whole = { width: CHART_WIDTH, height: CHART_HEIGHT }
    const bytes = await picture.deliver({ development, space: 'srgb', ...whole, bits: 8 })
    const region = { x: 37, y: 21, width: 90, height: 70 }
    const { rgba } = await picture.view({ development, ...whole, region })
    let differing = 0
    for (let y = 0; y < region.height; y++)
      for (let x = 0; x < region.width; x++)
        for (let c = 0; c < 3; c++) {
          const there = bytes[((y + region.y) * CHART_WIDTH + x + region.x) * 3 + c]
          if (rgba[(y * region.width + x) * 4 + c] !== there) differing++
        }
    expect(differing).toBe(0)
    engine.close(picture)
  })

  it('with every new step at its neutral are the pixels without them, bit for bit', async () => {
    const picture = await engine.open(chartFile('daylight65', 0.5))
    const whole = { width: CHART_WIDTH, height: CHART_HEIGHT }
    const deliver = (part: object) =>
      picture.deliver({ development: settings(part), space: 'srgb', ...whole, bits: 16 })
    const nodes = [{ hue: 10, width: 60 }]
    const idle = await deliver({
      steps: {
        hueNodes: { nodes },
        tints: { stops: [{ at: 0.5, hue: 10 }] },
        tones: { shadows: { at: -3 } },
        toning: { toner: 'sepia', strength: 0 },
        monochrome: { filter: 'red' },
        edgeBurn: { begin: 0.3 },
        grain: { size: 2 },
        curve: {
          all: [
            [0, 0],
            [0.5, 0.5],
            [1, 1],
          ],
        },
      },
      off: ['exposure'],
    })
    expect(idle).toEqual(await deliver({}))
    engine.close(picture)
  })
})
