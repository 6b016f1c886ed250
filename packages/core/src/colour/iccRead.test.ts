import { describe, expect, it } from 'vitest'
import { readIcc } from './iccRead'

const ascii = (text: string) => [...text].map((c) => c.charCodeAt(0))
const u32 = (n: number) => [(n >>> 24) & 255, (n >>> 16) & 255, (n >>> 8) & 255, n & 255]
const fixed = (v: number) => u32(Math.round(v * 65536))

/** A grey profile with one curve (ICC.1:2010, 7 and 8.4). */
function greyProfile(curve: readonly number[]): Uint8Array {
  const white = [...ascii('XYZ '), ...u32(0), ...fixed(0.9642), ...fixed(1), ...fixed(0.8249)]
  const head = [
    ...new Array<number>(12).fill(0),
    ...ascii('mntr'),
    ...ascii('GRAY'),
    ...ascii('XYZ '),
    ...new Array<number>(104).fill(0),
  ]
  const start = 132 + 2 * 12
  const entry = (name: string, at: number, size: number) => [...ascii(name), ...u32(at), ...u32(size)]
  return Uint8Array.from([
    ...head,
    ...u32(2),
    ...entry('wtpt', start, white.length),
    ...entry('kTRC', start + white.length, curve.length),
    ...white,
    ...curve,
  ])
}
const parametric = (kind: number, numbers: readonly number[]) => [
  ...ascii('para'),
  ...u32(0),
  kind >> 8,
  kind & 255,
  0,
  0,
  ...numbers.flatMap(fixed),
]
const at = (curve: readonly number[], v: number) => readIcc(greyProfile(curve)).curves[0](v)

describe('curves of profiles', () => {
  // the formulas as ICC.1:2010 prints them, table 65
  const g = 2.2
  const [a, b, c, d, e, f] = [0.9, 0.08, 0.3, 0.2, 0.05, 0.02]
  it.each([
    ['kind 0', 0, [g], (x: number) => x ** g],
    ['kind 1', 1, [g, a, -b], (x: number) => (x >= b / a ? (a * x - b) ** g : 0)],
    ['kind 2', 2, [g, a, -b, c], (x: number) => (x >= b / a ? (a * x - b) ** g + c : c)],
    ['kind 3', 3, [g, a, b, c, d], (x: number) => (x >= d ? (a * x + b) ** g : c * x)],
    ['kind 4', 4, [g, a, b, c, d, e, f], (x: number) => (x >= d ? (a * x + b) ** g + e : c * x + f)],
  ] as const)('of %s follow their formula on both sides of its limit', (_, kind, numbers, formula) => {
    const curve = parametric(kind, numbers)
    for (const x of [0, 0.05, 0.1, 0.19, 0.21, 0.5, 1]) expect(at(curve, x)).toBeCloseTo(formula(x), 4)
  })

  it('by one number are a power, by samples straight lines between them, by none the light itself', () => {
    const curv = (values: readonly number[]) => [
      ...ascii('curv'),
      ...u32(0),
      ...u32(values.length),
      ...values.flatMap((v) => [v >> 8, v & 255]),
    ]
    expect(at(curv([Math.round(1.8 * 256)]), 0.4)).toBeCloseTo(0.4 ** 1.8, 3)
    expect(at(curv([]), 0.4)).toBe(0.4)
    const three = curv([0, 13107, 65535])
    expect([0, 0.25, 0.5, 0.75, 1].map((v) => Number(at(three, v).toFixed(4)))).toEqual([0, 0.1, 0.2, 0.6, 1])
  })
})
