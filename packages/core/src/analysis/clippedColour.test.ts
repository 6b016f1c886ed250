import { describe, expect, it } from 'vitest'
import type { CfaPattern } from '../raw'
import type { Triple } from '../math'
import { CELL_FLOATS, CLIPPED_FROM } from './cells'
import { clippedColour } from './clippedColour'

const pattern: CfaPattern = { size: 2, colours: [0, 1, 1, 2] }
const balance: Triple = [2, 1, 1.6]
const QUADS = 16

/** A cell that sees one colour, with what the sensor holds of it. */
function cell([r, g, b]: Triple): number[] {
  const light = [r, g, b]
  const out = new Array<number>(CELL_FLOATS).fill(0)
  const kind = light.reduce((s, v, c) => s | (v >= balance[c] * CLIPPED_FROM ? 1 << c : 0), 0)
  const held = light.map((v, c) => Math.min(v, balance[c]))
  if (kind === 0) {
    const weight = QUADS * 2 * held[1]
    const sums = [held[0], held[1], held[2], held[1]].map((v) => v * weight)
    out.splice(0, 5, ...sums, weight)
  } else if (kind === 7) out[5] = QUADS
  else out.splice(4 + 4 * kind, 4, held[0] * QUADS, 2 * held[1] * QUADS, held[2] * QUADS, QUADS)
  return out
}

const solve = (row: readonly Triple[], rows = 4) =>
  clippedColour(
    Float32Array.from(Array.from({ length: rows }, () => row.flatMap(cell)).flat()),
    row.length,
    rows,
    pattern,
    balance,
  )!

const scaled = (c: Triple, k: number): Triple => [c[0] * k, c[1] * k, c[2] * k]

describe('the colour of clipped light', () => {
  it('is nothing where nothing is clipped', () => {
    expect(solve([[0.5, 0.5, 0.5]])).toBeUndefined()
  })

  it('is what cells say that are wholly seen', () => {
    const found = solve([
      [0.9, 0.6, 0.3],
      [0.9, 0.6, 0.3],
      [1.8, 1.2, 0.6],
    ])
    expect(found[0]).toBeCloseTo(1.5, 4)
    expect(found[12]).toBeCloseTo(0.5, 4)
  })

  it('is carried into what clips, two channels and three', () => {
    const yellow: Triple = [0.98, 0.95, 0.1]
    const row = [0.8, 0.95, 1.2, 1.5, 2.2, 3, 2.2, 1.5, 1.2, 0.95].map((k) => scaled(yellow, k))
    const found = solve(row)
    for (let x = 2; x < 9; x++) {
      expect(Math.log2(found[x] / (0.98 / 0.95))).toBeCloseTo(0, 0)
      // at least as yellow as the clipped green says beside the blue that is left
      expect(found[40 + x]).toBeLessThanOrEqual((row[x][2] / CLIPPED_FROM) * 1.001)
      expect(found[40 + x]).toBeLessThan(0.16)
    }
  })

  it('keeps the ratio of the two that are left where one clips', () => {
    const row: Triple[] = [
      [0.9, 0.9, 0.9],
      [1.6, 1.2, 0.8],
      [0.9, 0.9, 0.9],
    ]
    const found = solve(row)
    expect(Math.abs(Math.log2(found[1] / found[12 + 1] / 2))).toBeLessThan(0.3)
  })

  it('holds what is left to be less, by as much as the clipped channel says', () => {
    const grey: Triple = [0.95, 0.95, 0.95]
    const found = solve([grey, grey, [3, 3, 0.1], grey, grey])
    expect(found[20 + 2]).toBeLessThanOrEqual((0.1 / CLIPPED_FROM) * 1.001)
  })

  it('hardly crosses an edge', () => {
    const blue: Triple = [0.4, 0.85, 1.45]
    const row = [
      ...[0, 0, 0, 0].map(() => blue),
      ...[3, 2, 1.6, 1.3, 1.2].map((k) => scaled([1, 0.7, 0.4], k)),
    ]
    const found = solve(row)
    expect(found[4]).toBeGreaterThan(1.2)
    expect(found[36 + 4]).toBeLessThan(0.7)
  })
})
