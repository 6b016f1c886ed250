import { ascii, fixed, packProfile, u16, u32, xyzTag, type Triple } from '@dunkelkammer/core'
import { deviceFor, PAPER, printedLab, xyzOf } from './paper'

const NAME = 'Made-up matt cotton paper'
/** Entries along the sides of the grids to the printer, and from it. */
const TO = 17
const FROM = 13

/** 16 bits of L*a*b* in a table (ICC.1:2010, 10.10: the older encoding). */
const labWords = ([l, a, b]: Triple) =>
  [l * 652.8, (a + 128) * 256, (b + 128) * 256].map((v) => Math.round(Math.min(Math.max(v, 0), 65535)))
const labOf = (at: readonly number[]): Triple => {
  const [l, a, b] = at.map((v) => (v * 65535) / (TO - 1))
  return [l / 652.8, a / 256 - 128, b / 256 - 128]
}

/** A table of three channels to three, 16 bits, with curves that leave all as it is. The first channel runs slowest. */
function tableTag(
  side: number,
  entry: (at: readonly [number, number, number]) => readonly number[],
): number[] {
  const straight = [0, 65535].flatMap(u16)
  const entries: number[] = []
  for (let x = 0; x < side; x++)
    for (let y = 0; y < side; y++)
      for (let z = 0; z < side; z++) entries.push(...entry([x, y, z]).flatMap(u16))
  return [
    ...[...ascii('mft2'), ...u32(0), 3, 3, side, 0],
    ...[1, 0, 0, 0, 1, 0, 0, 0, 1].flatMap(fixed),
    ...[...u16(2), ...u16(2), ...straight, ...straight, ...straight],
    ...entries,
    ...[...straight, ...straight, ...straight],
  ]
}

/** Text for profiles of version 2. */
const described = (text: string) => [
  ...[...ascii('desc'), ...u32(0), ...u32(text.length + 1), ...ascii(text), 0],
  ...new Array<number>(4 + 4 + 2 + 1 + 67).fill(0),
]

/** The printer's black, which perceptual colours are lifted to. */
const DARKEST = printedLab([0, 0, 0])[0]

/** A printer profile with tables (ICC version 2.4) of the made-up paper. */
export function paperProfile(): Uint8Array {
  const from = tableTag(FROM, (at) =>
    labWords(printedLab(at.map((v) => v / (FROM - 1)) as unknown as Triple)),
  )
  const words = (device: Triple) => device.map((v) => Math.round(v * 65535))
  const nearest = tableTag(TO, (at) => words(deviceFor(labOf(at))))
  const perceptual = tableTag(TO, (at) => {
    const [l, a, b] = labOf(at)
    return words(deviceFor([DARKEST + ((100 - DARKEST) * l) / 100, a * 0.85, b * 0.85]))
  })
  return packProfile(0x02400000, 'prtr', 'Lab ', [
    ['desc', described(NAME)],
    ['cprt', [...ascii('text'), ...u32(0), ...ascii('No copyright, use freely'), 0]],
    ['wtpt', xyzTag(xyzOf(PAPER))],
    ['A2B0', from],
    ['A2B1', from],
    ['A2B2', from],
    ['B2A0', perceptual],
    ['B2A1', nearest],
    ['B2A2', nearest],
  ])
}
