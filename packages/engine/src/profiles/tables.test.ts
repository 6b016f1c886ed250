import {
  ciede2000,
  decode,
  iccProfile,
  spaces,
  TABLE_ENTRY,
  TABLE_SIDE,
  TABLE_SPACE,
  toLab,
  type Triple,
} from '@dunkelkammer/core'
import { deviceFor, INK_BLACK, PAPER, paperProfile, printedLab } from '@dunkelkammer/demo'
import { describe, expect, it } from 'vitest'
import { fileTable, proofTable, readProfile } from '.'

const paper = paperProfile()
const ENTRIES = TABLE_SIDE ** 3
/** Some of the table's entries, spread over all of it. */
const SOME = Array.from({ length: 300 }, (_, i) => Math.floor((i * 0.618034 * ENTRIES) % ENTRIES))
const wanted = (i: number): Triple => {
  const at = (c: number) => Math.floor(i / TABLE_SIDE ** c) % TABLE_SIDE
  const rgb = [0, 1, 2].map((c) => decode(TABLE_SPACE.curve, at(c) / (TABLE_SIDE - 1)))
  return toLab(TABLE_SPACE, rgb as unknown as Triple)
}
const entry = (values: Float32Array, i: number) =>
  [...values.subarray(i * TABLE_ENTRY, i * TABLE_ENTRY + 3)] as unknown as Triple
/** How far from a colour the made-up printer's nearest is. */
const missing = (lab: Triple) => ciede2000(printedLab(deviceFor(lab)), lab)
const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length
/** Of the grey with this share of the grid's side. */
const grey = (share: number) => Math.round(share * (TABLE_SIDE - 1)) * (1 + TABLE_SIDE + TABLE_SIDE ** 2)

describe('tables to a printer', () => {
  it('print colours that the paper has as they are meant', async () => {
    const { values } = await fileTable(paper, { intent: 'relative', blackPoint: false })
    const inside = SOME.filter((i) => missing(wanted(i)) < 0.5)
    expect(inside.length).toBeGreaterThan(20)
    // most of it is the profile's, whose own table is coarse
    expect(mean(inside.map((i) => ciede2000(printedLab(entry(values, i)), wanted(i))))).toBeLessThan(1)
  })

  it('keep dark tones apart where black is brought to black', async () => {
    const lightness = async (blackPoint: boolean) => {
      const { values } = await fileTable(paper, { intent: 'relative', blackPoint })
      return [0, 0.08, 0.16].map((share) => printedLab(entry(values, grey(share)))[0])
    }
    const darkest = printedLab([0, 0, 0])[0]
    const [cut, kept] = [await lightness(false), await lightness(true)]
    // L* of these greys is below that of the ink
    expect(wanted(grey(0.16))[0]).toBeLessThan(darkest)
    expect(cut[2] - cut[0]).toBeLessThan(0.3)
    expect(kept[0] - darkest).toBeLessThan(0.6)
    expect(kept[2] - kept[1]).toBeGreaterThan(1)
  })

  it('compress colours by the perceptual intent', async () => {
    const { values } = await fileTable(paper, { intent: 'perceptual', blackPoint: false })
    // as the profile was made: lightness into the paper's, chroma by 0.85
    const darkest = printedLab([0, 0, 0])[0]
    const asMade = ([l, a, b]: Triple): Triple => [darkest + ((100 - darkest) * l) / 100, a * 0.85, b * 0.85]
    const inside = SOME.map(wanted).map(asMade)
    const errors = SOME.flatMap((i, k) =>
      missing(inside[k]) < 0.5 ? [ciede2000(printedLab(entry(values, i)), inside[k])] : [],
    )
    expect(errors.length).toBeGreaterThan(20)
    expect(mean(errors)).toBeLessThan(0.8)
  })
})

describe('tables of a proof', () => {
  const how = { intent: 'relative', blackPoint: true } as const
  const shown = async (paperWhite: boolean, display: 'srgb' | 'display-p3') => {
    const { values } = await proofTable(paper, { ...how, paperWhite }, display)
    return [0, ENTRIES - 1].map((i) => toLab(spaces[display], entry(values, i)))
  }

  it.each(['srgb', 'display-p3'] as const)('show white and black of the paper in %s', async (display) => {
    const [black, white] = await shown(true, display)
    // between the entries of the profile's own table
    expect(ciede2000(black, INK_BLACK)).toBeLessThan(1.2)
    expect(ciede2000(white, PAPER)).toBeLessThan(0.5)
  })

  it('take white and black of the display in their place', async () => {
    const [black, white] = await shown(false, 'srgb')
    expect(white[0]).toBeGreaterThan(99.5)
    expect(black[0]).toBeLessThan(1.6)
  })

  it('tell what the paper has no colour for', async () => {
    const { values } = await proofTable(paper, { ...how, paperWhite: false }, 'srgb')
    // black counts as black in the proof, the printer's own does not reach it
    const light = SOME.filter((i) => wanted(i)[0] > 45)
    const away = (i: number) => values[i * TABLE_ENTRY + 3]
    for (const i of light.filter((i) => missing(wanted(i)) > 10)) expect(away(i)).toBeGreaterThan(5)
    for (const share of [0, 0.3, 0.5, 0.7, 1]) expect(away(grey(share))).toBeLessThan(1)
  })
})

describe('profiles', () => {
  it('tell what they are for', async () => {
    expect(await readProfile(paper)).toMatchObject({ colours: 'RGB', device: 'printer' })
    const display = iccProfile(spaces['display-p3'])
    expect(await readProfile(display)).toEqual({ name: 'Display P3', colours: 'RGB', device: 'display' })
  })

  const changed = (at: number, text: string) => {
    const out = paper.slice()
    out.set(
      [...text].map((c) => c.charCodeAt(0)),
      at,
    )
    return out
  }
  it.each([
    ['something else', new Uint8Array(5000), 'it is no ICC profile, or damaged'],
    ['a short file', paper.subarray(0, 100), 'it is no ICC profile, or damaged'],
    ['a profile cut off', paper.subarray(0, 4000), 'damaged|does not say'],
    ['a scanner', changed(12, 'scnr'), 'neither shows nor prints'],
    ['many inks', changed(16, '6CLR'), 'it is for 6CLR colours'],
    ['tables for others than it says', changed(16, 'CMYK'), 'does not say how colours are shown'],
  ])('are refused: %s', async (_, bytes, why) => {
    await expect(readProfile(bytes)).rejects.toThrow(new RegExp(why))
  })
})
