import { log2, readDevelopment } from '@dunkelkammer/core'
import { fbm2, hash } from '@dunkelkammer/demo'
import type { Engine } from '../../src/node'
import { photographClipped } from './highlights'

const W = 384
const H = 256
const MID = 0.18

/** Delivers light in stops around mid grey, developed by grips, in the same measure. */
async function developed(
  engine: Engine,
  stops: (x: number, y: number) => number,
  tones: object,
): Promise<(x: number, y: number) => number> {
  const rgb = new Float32Array((W + 4) * (H + 4) * 3)
  for (let y = 0; y < H + 4; y++)
    for (let x = 0; x < W + 4; x++)
      rgb.fill(MID * 2 ** stops(x - 2, y - 2), (y * (W + 4) + x) * 3, (y * (W + 4) + x) * 3 + 3)
  const picture = await engine.open(photographClipped('tones', rgb, 1, [1, 1, 1], W, H).dng)
  const development = readDevelopment({ steps: { exposure: { ev: 0 }, tones } })
  const size = { width: W, height: H }
  const bytes = await picture.deliver({ development, space: 'linear-rec2020', bits: 16, ...size })
  engine.close(picture)
  const values = new Uint16Array(bytes.buffer)
  return (x, y) => log2(Math.max(values[(y * W + x) * 3 + 1], 1) / 65535 / MID)
}

/** Contrast of one picture's drawing as a share of another's. */
function contrast(after: (x: number, y: number) => number, before: (x: number, y: number) => number): number {
  const places: [number, number][] = []
  for (let y = 60; y < 196; y++) for (let x = 80; x < 304; x++) places.push([x, y])
  const mean = (f: (x: number, y: number) => number) =>
    places.reduce((s, [x, y]) => s + f(x, y), 0) / places.length
  const [a, b] = [mean(after), mean(before)]
  let [both, own] = [0, 0]
  for (const [x, y] of places) {
    both += (after(x, y) - a) * (before(x, y) - b)
    own += (before(x, y) - b) ** 2
  }
  return both / own
}

const LIFTS: readonly [name: string, tones: object][] = [
  ['shadows +2', { shadows: { lift: 2 } }],
  ['dark +2', { deepShadows: { lift: 2 }, shadows: { lift: 2 } }],
  ['mid tones -1.5', { midTones: { lift: -1.5 } }],
]
const AMOUNT = 0.25
const TEXTURES: readonly [name: string, at: (x: number, y: number) => number][] = [
  ['grains 1 px', (x, y) => (hash(x, y, 5) - 0.5) * Math.sqrt(12)],
  ['stripes 2 px', (x) => Math.SQRT2 * Math.sin((x * Math.PI) / 2)],
  ['spots 5 px', (x, y) => 2 * Math.sin((x * Math.PI) / 5) * Math.sin((y * Math.PI) / 5)],
  ['cloth', (x, y) => 4 * (fbm2(x * 0.3, y * 0.3, 4, 2) - 0.5)],
]
const LEVELS = [-3, -2, -1.5, -1, -0.5]
const EDGES = [1, 2, 4]

/** What tone grips leave of texture, at the worst of the levels, and what halos they cast at edges, in stops. */
export async function toneTable(engine: Engine): Promise<string[]> {
  const rows: string[] = []
  for (const [name, tones] of LIFTS) {
    const cells: string[] = []
    for (const [, texture] of TEXTURES) {
      const kept: number[] = []
      for (const level of LEVELS) {
        const drawn = (x: number, y: number) => level + AMOUNT * texture(x, y)
        kept.push(contrast(await developed(engine, drawn, tones), await developed(engine, drawn, {})))
      }
      cells.push(Math.min(...kept).toFixed(2))
    }
    for (const size of EDGES) {
      let most = 0
      for (const level of LEVELS) {
        const side = (x: number, y: number) => x + y / 2 < W / 2
        const edge = (x: number, y: number) => level + (side(x, y) ? -size / 2 : size / 2)
        const after = await developed(engine, edge, tones)
        for (let x = 8; x < W - 8; x++) {
          const y = H / 2
          if (Math.abs(x + y / 2 - W / 2) < 4) continue
          const far = after(side(x, y) ? 8 : W - 9, y)
          most = Math.max(most, Math.abs(after(x, y) - far))
        }
      }
      cells.push(most.toFixed(3))
    }
    rows.push(`| ${name} | ${cells.join(' | ')} |`)
  }
  const heads = [...TEXTURES.map(([n]) => n), ...EDGES.map((e) => `halo at ${e} EV`)]
  return [
    `\n| texture of ${AMOUNT} EV kept, halos in EV | ${heads.join(' | ')} |`,
    `|---|${heads.map(() => '--:').join('|')}|`,
    ...rows,
  ]
}
