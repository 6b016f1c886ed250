import { apply, type Triple } from '@dunkelkammer/core'
import { cameraFile, demoFrames, levelsOf, renderCrop, response } from '@dunkelkammer/demo'
import type { Engine } from '../../src/node'
import { plainCamera, SIX, type TrueCrop } from './crops'
import { balanceOf, cpsnr, ours } from './demosaic'
import type { Photograph } from './photographs'

/** Pictures are made at twice the size, so that their colours can lie between photosites. */
const FINE = 2
const [WIDTH, HEIGHT] = [300, 200]
/** Pixels by which red and blue lie outward and inward of green at the corners. */
const FRINGES = [0.6, 1.8]
const BAYER = [0, 1, 1, 2]

/** Places of the demo's scenes, from the corners that hold fine drawing. */
const PLACES = [
  [0, 1380, 380],
  [1, 720, 420],
  [2, 780, 620],
] as const

function scenes(): Photograph[] {
  return PLACES.map(([index, x, y]) => {
    const { scene, width, height } = demoFrames[index]
    const part = { x: x * FINE, y: y * FINE, width: WIDTH * FINE, height: HEIGHT * FINE }
    const rgb = renderCrop(scene, width * FINE, height * FINE, part)
    return { name: scene.title, width: part.width, height: part.height, rgb }
  })
}

/** What the camera's channels have of a picture, sampled about a place of its half-sized frame. */
function channelsOf({ width, height, rgb }: Photograph) {
  const m = response(plainCamera)
  const light = new Float32Array(rgb.length)
  let top = 0
  for (let i = 0; i < rgb.length; i += 3)
    apply(m, [rgb[i], rgb[i + 1], rgb[i + 2]]).forEach((v, c) => {
      light[i + c] = Math.max(v, 0)
      top = Math.max(top, v)
    })
  // well exposed, and nothing clips
  const exposure = 0.9 / top
  const at = (x: number, y: number, c: number) => {
    const [a, b] = [Math.floor(x), Math.floor(y)]
    const [u, v] = [x - a, y - b]
    const of = (i: number, j: number) =>
      light[(Math.min(Math.max(j, 0), height - 1) * width + Math.min(Math.max(i, 0), width - 1)) * 3 + c]
    const upper = of(a, b) + u * (of(a + 1, b) - of(a, b))
    return upper + v * (of(a, b + 1) + u * (of(a + 1, b + 1) - of(a, b + 1)) - upper)
  }
  return (x: number, y: number, c: number) => {
    let sum = 0
    for (let j = 0; j < FINE; j++)
      for (let i = 0; i < FINE; i++) sum += at(x * FINE - FINE / 2 + i, y * FINE - FINE / 2 + j, c)
    return (exposure * sum) / FINE ** 2
  }
}

/** A picture photographed through a lens whose only fault is fringes; its truth is without them. */
function fringed(picture: Photograph, shares: Triple, pattern: readonly number[]): TrueCrop {
  const [width, height] = [picture.width, picture.height].map((v) => (v / FINE) & ~1)
  const channel = channelsOf(picture)
  const { black, white } = levelsOf(plainCamera, {})
  const size = Math.sqrt(pattern.length)
  const truth = new Float32Array(width * height * 3)
  const mosaic = new Uint16Array(width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x
      for (let c = 0; c < 3; c++) truth[i * 3 + c] = channel(x + 0.5, y + 0.5, c)
      const c = pattern[(y % size) * size + (x % size)]
      const [vx, vy] = [x + 0.5 - width / 2, y + 0.5 - height / 2].map((v) => v / (1 + shares[c]))
      mosaic[i] = Math.round(black + channel(width / 2 + vx, height / 2 + vy, c) * (white - black))
    }
  const dng = cameraFile(plainCamera, { width, height }, mosaic, [1, 1, 1], { pattern })
  return { name: picture.name, width, height, dng, truth }
}

/** Fringes left in and taken out, CPSNR in dB against the same picture without any. */
export async function fringesTable(engine: Engine, photographs: readonly Photograph[]): Promise<string[]> {
  const out: string[] = []
  const own = scenes()
  for (const [kind, pattern, pictures] of [
    ['2 x 2', BAYER, [...own, ...photographs]],
    ['6 x 6', SIX, own],
  ] as const)
    for (const picture of pictures) {
      const cells: number[] = []
      for (const px of FRINGES) {
        const half = Math.hypot(picture.width, picture.height) / FINE / 2
        // what the settings reach
        const share = Math.min(px / half, 0.01)
        const crop = fringed(picture, [share, 0, -share], pattern)
        const balance = balanceOf(crop)
        const taken = { source: 'own', redSize: share, blueSize: -share }
        for (const fringes of [{ source: 'none' }, taken])
          cells.push(cpsnr(await ours(engine, crop, { fringes, crop: { inside: false } }), crop, balance))
      }
      out.push(`| ${kind}, ${picture.name} | ${cells.map((v) => v.toFixed(2)).join(' | ')} |`)
    }
  const heads = FRINGES.map((px) => `${px} px, left in | taken out`).join(' | ')
  return [`\n| fringes, CPSNR in dB | ${heads} |`, '|---|--:|--:|--:|--:|', ...out]
}
