import type { PlannedStep } from '@dunkelkammer/core'
import { describe, expect, it } from 'vitest'
import { changedMasks } from './shown'

const box = { x: 2, y: 3, width: 10, height: 5 }
const step = (ev: number): PlannedStep => ({ id: 'exposure', settings: { ev }, strength: 1 })
const pass = (ev: number, key: string, drawn = true): PlannedStep => ({
  ...step(ev),
  mask: { key, drawn: drawn ? { raster: {}, x: 20, y: 30, box } : undefined } as PlannedStep['mask'],
})
const there = { x: 22, y: 33, width: 10, height: 5 }

describe('where two runs of steps differ', () => {
  it('is nowhere where they are the same', () => {
    expect(changedMasks([step(1), pass(1, 'a')], [step(1), pass(1, 'a')])).toEqual([])
  })

  it('is where the mask of a pass lies that came, went or changed', () => {
    expect(changedMasks([step(1)], [step(1), pass(1, 'a')])).toEqual([there])
    expect(changedMasks([step(1), pass(1, 'a')], [step(1)])).toEqual([there])
    expect(changedMasks([pass(1, 'a'), pass(1, 'b')], [pass(1, 'a'), pass(2, 'b')])).toEqual([there, there])
  })

  it('is not known where a step of the whole picture changed, the order did, or a mask is not drawn', () => {
    expect(changedMasks([step(1), pass(1, 'a')], [step(2), pass(1, 'a')])).toBeUndefined()
    expect(changedMasks([pass(1, 'a'), pass(1, 'b')], [pass(1, 'b'), pass(1, 'a')])).toBeUndefined()
    expect(changedMasks([pass(1, 'a')], [pass(2, 'a', false)])).toBeUndefined()
    expect(changedMasks([pass(1, 'a'), pass(1, 'a')], [pass(1, 'a')])).toBeUndefined()
  })
})
