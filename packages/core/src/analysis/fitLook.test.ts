import { beforeAll, expect, it } from 'vitest'
import { random, testBench } from '../../test/bench'
import { runStep } from '../../test/steps'
import { ciede2000, toLab, srgb, between, working } from '../colour'
import type { Kernels } from '../kernels/kernels'
import { apply, type Triple } from '../math'
import type { Scratch } from '../memory'
import { decode, encode } from '../output'
import { look, LookSchema, LOOKS } from '../steps'
import { fitLook } from './fitLook'

let bench: { kernels: Kernels; scratch: Scratch }
beforeAll(async () => (bench = await testBench(64)))

const SIZE = { width: 96, height: 64 }
const toWorking = between(srgb, working)
const toSrgb = between(working, srgb)

/** A made-up picture in sRGB bytes: surfaces of many hues under light that falls off. */
function picture(): Uint8Array {
  const next = random(11)
  const tiles = Array.from({ length: 96 }, () => [next(), next(), next()].map((v) => 0.15 + 0.5 * v))
  const out = new Uint8Array(SIZE.width * SIZE.height * 4).fill(255)
  for (let y = 0; y < SIZE.height; y++)
    for (let x = 0; x < SIZE.width; x++) {
      const tile = tiles[Math.floor(y / 8) * 12 + Math.floor(x / 8)]
      const light = 0.05 + 0.95 * (x / SIZE.width)
      for (let c = 0; c < 3; c++)
        out[(y * SIZE.width + x) * 4 + c] = Math.round(255 * encode(srgb.curve, tile[c] * light))
    }
  return out
}
const linear = (p: Uint8Array, i: number): Triple =>
  [0, 1, 2].map((c) => decode(srgb.curve, p[4 * i + c] / 255)) as unknown as Triple

function under(recipe: object, p: Uint8Array): Uint8Array {
  const settings = LookSchema.parse({ kind: 'recipe', id: 'x', name: 'x', recipe })
  const after = runStep(bench, look, settings, SIZE, (x, y) =>
    apply(toWorking, linear(p, y * SIZE.width + x)),
  )
  const out = new Uint8Array(p.length).fill(255)
  for (let i = 0; i < SIZE.width * SIZE.height; i++)
    apply(toSrgb, after(i % SIZE.width, Math.floor(i / SIZE.width))).forEach((v, c) => {
      out[4 * i + c] = Math.round(255 * encode(srgb.curve, Math.min(Math.max(v, 0), 1)))
    })
  return out
}
const apart = (a: Uint8Array, b: Uint8Array) => {
  let sum = 0
  for (let i = 0; i < a.length / 4; i++)
    sum += ciede2000(toLab(srgb, linear(a, i)), toLab(srgb, linear(b, i)))
  return sum / (a.length / 4)
}

it.each(['brickyard', 'still-water', 'market-day', 'plain-silver'])(
  'brings a picture near to one that was made by the look %s',
  (id) => {
    const plain = picture()
    const wanted = under(LOOKS.find((l) => l.id === id)!.recipe, plain)
    const fitted = under(fitLook(plain, wanted), plain)
    expect(apart(fitted, wanted)).toBeLessThan(apart(plain, wanted) * 0.5)
  },
)

it('of two pictures that are alike changes next to nothing', () => {
  const plain = picture()
  expect(apart(under(fitLook(plain, plain), plain), plain)).toBeLessThan(0.5)
})
