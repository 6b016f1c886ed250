import { decode, spaces, toLab, ciede2000, type SpaceId, type Triple } from '@dunkelkammer/core'
import { INK_BLACK, PAPER, paperProfile, printedLab, deviceFor } from '@dunkelkammer/demo'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { CHART_HEIGHT, CHART_WIDTH, chartFile, PATCH } from '../test/chart'
import { settings, testEngine, whole } from '../test/engines'
import type { Engine, Picture, View } from './index'
import { proofTable } from './profiles'

let engine: Engine
let picture: Picture
const paper = paperProfile()
beforeAll(async () => {
  engine = testEngine({ workers: 2 })
  picture = await engine.open(chartFile('daylight65', 0.5))
})
afterAll(() => engine.stop())

/** L*a*b* of a patch as a page shows it. */
function patchLab({ rgba, display }: View, patch: number): Triple {
  const sum = [0, 0, 0]
  const edge = PATCH / 4
  for (let y = edge; y < PATCH - edge; y++)
    for (let x = edge; x < PATCH - edge; x++) {
      const at = ((Math.floor(patch / 6) * PATCH + y) * CHART_WIDTH + (patch % 6) * PATCH + x) * 4
      for (let c = 0; c < 3; c++) sum[c] += rgba[at + c] / 255 / (PATCH / 2) ** 2
    }
  const { curve } = spaces[display]
  return toLab(spaces[display], sum.map((v) => decode(curve, v)) as unknown as Triple)
}
const view = (part: object = {}, development = settings({})) =>
  picture.view({ development, ...whole({ width: CHART_WIDTH, height: CHART_HEIGHT }), ...part })
const proofOn = (display: SpaceId, paperWhite: boolean) =>
  proofTable(paper, { intent: 'relative', blackPoint: true, paperWhite }, display)
const all = Array.from({ length: 24 }, (_, i) => i)

describe('a view', () => {
  it("looks the same in the page's wide space, and richer where the narrow one ends", async () => {
    const [narrow, wide] = [await view(), await view({ display: 'display-p3' })]
    expect(wide.display).toBe('display-p3')
    const pairs = all.map((p) => [patchLab(narrow, p), patchLab(wide, p)] as const)
    const inside = pairs.filter(([, [, a, b]]) => Math.hypot(a, b) < 30)
    expect(inside.length).toBeGreaterThan(8)
    for (const [a, b] of inside) expect(ciede2000(a, b)).toBeLessThan(1)
    // the chart's cyan lies outside of sRGB
    const chroma = ([, a, b]: Triple) => Math.hypot(a, b)
    expect(Math.max(...pairs.map(([a, b]) => chroma(b) - chroma(a)))).toBeGreaterThan(1)
  })
})

describe('a proof', () => {
  it.each(['srgb', 'display-p3'] as const)('shows white and black of the paper in %s', async (display) => {
    const proof = await proofOn(display, true)
    const white = await view({ display, proof }, settings({ steps: { exposure: { ev: 5 } } }))
    expect(ciede2000(patchLab(white, 18), PAPER)).toBeLessThan(1)
    const black = await view({ display, proof }, settings({ steps: { exposure: { ev: -5 } } }))
    // almost black
    expect(Math.abs(patchLab(black, 23)[0] - INK_BLACK[0])).toBeLessThan(3)
  })

  it('leaves what the paper has, and shows the nearest of what it has not', async () => {
    const plain = await view()
    const proofed = await view({ proof: await proofOn('srgb', false) })
    const light = all
      .map((p) => [patchLab(plain, p), patchLab(proofed, p)] as const)
      .filter(([[l]]) => l > 50)
    const missing = light.map(([lab]) => ciede2000(printedLab(deviceFor(lab)), lab))
    expect(missing.filter((d) => d < 1).length).toBeGreaterThan(2)
    light.forEach(([was, is], i) => {
      if (missing[i] < 0.7) expect(ciede2000(was, is)).toBeLessThan(3)
    })
  })

  it('draws stripes over what is out of gamut, and counts them as nothing', async () => {
    const proof = await proofOn('srgb', false)
    const [plain, striped] = [await view({ proof }), await view({ proof, stripes: true })]
    const differing = (patch: number) => {
      let n = 0
      for (let y = 4; y < PATCH - 4; y++)
        for (let x = 4; x < PATCH - 4; x++) {
          const at = ((Math.floor(patch / 6) * PATCH + y) * CHART_WIDTH + (patch % 6) * PATCH + x) * 4
          if (plain.rgba[at] !== striped.rgba[at] || plain.rgba[at + 1] !== striped.rgba[at + 1]) n++
        }
      return n / (PATCH - 8) ** 2
    }
    const bare = await view()
    for (const patch of all) {
      const lab = patchLab(bare, patch)
      const off = ciede2000(printedLab(deviceFor(lab)), lab)
      // three of eight pixels
      // black counts as black
      if (off > 8 && lab[0] > 50) expect(differing(patch)).toBeGreaterThan(0.3)
      if (off < 0.5 && lab[0] > 50) expect(differing(patch)).toBe(0)
    }
    expect(all.some((patch) => differing(patch) > 0.3)).toBe(true)
    striped.histogram.forEach((counts, c) => expect([...counts]).toEqual([...plain.histogram[c]]))
  })
})

describe('a reading', () => {
  it("is of the page's space", async () => {
    const at = [(2.5 * PATCH) / CHART_WIDTH, (2.5 * PATCH) / CHART_HEIGHT] as const
    const [narrow, wide] = [
      await picture.ask('read', settings({}), ...at, 4),
      await picture.ask('read', settings({}), ...at, 4, 'display-p3'),
    ]
    const { curve } = spaces['display-p3']
    const lab = toLab(spaces['display-p3'], wide.output.map((v) => decode(curve, v)) as unknown as Triple)
    expect(ciede2000(lab, wide.lab)).toBeLessThan(0.1)
    // the chart's red lies a little outside of sRGB
    expect(ciede2000(narrow.lab, wide.lab)).toBeLessThan(3)
    expect(
      Math.abs(narrow.output[1] - wide.output[1]) + Math.abs(narrow.output[0] - wide.output[0]),
    ).toBeGreaterThan(0.02)
  })
})
