import { PatchSchema, type Patch } from '@dunkelkammer/core'
import { describe, expect, it } from 'vitest'
import { sourceProblem } from './sourceProblem'

const SIZE = { width: 3000, height: 2000 }
const spot = (id: string, more: object = {}): Patch =>
  PatchSchema.parse({ id, x: 0.5, y: 0.3, radius: 0.02, source: [0.1, 0], ...more })

describe('a source', () => {
  it('fits where nothing has come between', () => {
    expect(sourceProblem(spot('a'), [spot('a'), spot('b', { x: 0.7 })], SIZE)).toBeUndefined()
    // at a border, by the short side
    expect(sourceProblem(spot('a', { source: [0, 0.36] }), [], SIZE)).toBeUndefined()
  })

  it('does not where it has left the picture', () => {
    const said = 'Its source lies outside the picture.'
    for (const source of [
      [0.51, 0],
      [-0.51, 0],
      [0, 0.37],
      [0, -0.31],
    ])
      expect(sourceProblem(spot('a', { source }), [], SIZE)).toBe(said)
  })

  it('does not where another patch that is on covers it', () => {
    const over = (more: object) => [spot('c', { x: 0.1 }), spot('b', { x: 0.61, ...more }), spot('a')]
    expect(sourceProblem(spot('a'), over({}), SIZE)).toBe('Its source is covered by patch 2.')
    expect(sourceProblem(spot('a'), over({ on: false }), SIZE)).toBeUndefined()
    expect(sourceProblem(spot('a'), over({ y: 0.33 }), SIZE)).toBeUndefined()
  })

  it('is none of a fill', () => {
    expect(sourceProblem(spot('a', { kind: 'fill', source: [2, 0] }), [], SIZE)).toBeUndefined()
  })
})
