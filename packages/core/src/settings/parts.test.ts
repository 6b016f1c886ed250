import { describe, expect, it } from 'vitest'
import { STEP_IDS, type StepId } from '../steps'
import {
  applyChanges,
  changesBetween,
  commonParts,
  joinedChanges,
  partOf,
  readDevelopment,
  revertChanges,
  startDevelopment,
  StoredDevelopmentSchema,
  upgraded,
  upgradedStep,
  ChangeSchema,
  type Change,
  type Development,
} from './index'

const start = startDevelopment()
const d = (part: object): Development => readDevelopment(part)
const BUSY = d({
  steps: { exposure: { ev: 1 }, tones: { shadows: { lift: 0.5 } }, grain: { strength: 0.4 } },
  strength: { grain: 0.5, tones: 1.2 },
  off: ['haze', 'exposure'],
  interest: [{ x: 0.1, y: 0.1, width: 0.2, height: 0.3 }],
})

describe('changes', () => {
  it('lead from any development to any other and back, and leave the rest as the same objects', () => {
    const all = [
      start,
      BUSY,
      d({ steps: { exposure: { ev: 1 } } }),
      d({ off: ['grain'], strength: { haze: 0 } }),
    ]
    for (const from of all)
      for (const to of all) {
        const changes = changesBetween(from, to)
        expect(applyChanges(from, changes)).toEqual(to)
        expect(revertChanges(to, changes)).toEqual(from)
        for (const id of STEP_IDS)
          if (!changes.some((c) => c.part === id))
            expect(applyChanges(from, changes).steps[id]).toBe(from.steps[id])
      }
  })

  it('name what changed, and nothing else', () => {
    expect(changesBetween(BUSY, BUSY)).toEqual([])
    expect(changesBetween(start, structuredClone(start))).toEqual([])
    expect(changesBetween(start, BUSY).map((c) => c.part)).toEqual([
      'haze',
      'exposure',
      'tones',
      'grain',
      'interest',
    ])
    expect(changesBetween(start, BUSY)[1]).toEqual({
      part: 'exposure',
      before: { settings: { ev: 0 } },
      now: { settings: { ev: 1 }, off: true },
    })
    // full strength and nothing said of it are the same
    expect(changesBetween(start, { ...start, strength: { grain: 1 } })).toEqual([])
  })

  it('one after another are as one, and nothing where they end where they began', () => {
    const middle = d({ steps: { exposure: { ev: 2 }, grain: { strength: 0.1 } } })
    const one = changesBetween(start, middle)
    const joined = joinedChanges(one, changesBetween(middle, BUSY))
    expect(applyChanges(start, joined)).toEqual(BUSY)
    expect(revertChanges(BUSY, joined)).toEqual(start)
    expect(joinedChanges(one, changesBetween(middle, start))).toEqual([])
  })

  it('have parts in common, or not', () => {
    const by = (to: Development) => changesBetween(start, to)
    const exposed = by(d({ steps: { exposure: { ev: 1 } } }))
    expect(commonParts(exposed, by(BUSY))).toEqual(['exposure'])
    expect(commonParts(exposed, by(d({ off: ['grain'] })))).toEqual([])
    expect(commonParts(exposed, by(d({ off: ['exposure'] })))).toEqual(['exposure'])
  })

  it('are checked as settings are', () => {
    const change = (now: unknown, part = 'exposure') =>
      ChangeSchema.safeParse({ part, before: partOf(start, 'exposure'), now }).success
    expect(change({ settings: { ev: 2 } })).toBe(true)
    for (const wrong of [{ settings: { ev: 9 } }, { ev: 2 }, undefined, { settings: { ev: 2 }, strength: 9 }])
      expect(change(wrong)).toBe(false)
    expect(change({ settings: { ev: 2 } }, 'sepia')).toBe(false)
    expect(ChangeSchema.safeParse(null).success).toBe(false)
  })
})

describe('older settings', () => {
  // grain once had its strength in per cent, and was called amount
  const MIGRATIONS = [
    (old: { amount: number }) => ({ strength: old.amount }),
    (old: { strength: number }) => ({ strength: old.strength / 100 }),
  ]
  const of = (id: StepId) => (id === 'grain' ? (MIGRATIONS as never) : [])

  it('of one step are brought up version by version, from whichever they are', () => {
    expect(upgradedStep('grain', { amount: 40 }, 1, of)).toEqual({ strength: 0.4 })
    expect(upgradedStep('grain', { strength: 40 }, 2, of)).toEqual({ strength: 0.4 })
    expect(upgradedStep('grain', { strength: 0.4 }, 3, of)).toEqual({ strength: 0.4 })
    expect(() => upgradedStep('grain', {}, 4, of)).toThrow(/newer/)
    expect(upgradedStep('haze', { strength: 1 }, 1, of)).toEqual({ strength: 1 })
  })

  it('are brought up together, each step by its own version', () => {
    const stored = { format: 2, steps: { grain: { amount: 40 }, haze: { strength: 1 } } }
    expect(upgraded(stored, of)).toMatchObject({
      steps: { grain: { strength: 0.4 }, haze: { strength: 1 } },
    })
    expect(
      upgraded({ ...stored, versions: { grain: 3 }, steps: { grain: { strength: 0.4 } } }, of),
    ).toMatchObject({
      steps: { grain: { strength: 0.4 } },
    })
    expect(() => upgraded({ ...stored, versions: { grain: 4 } }, of)).toThrow(/newer/)
  })

  it('lose what was only looked at: stages held off and pins', () => {
    const { steps, strength, off, interest } = BUSY
    const old = { format: 1, steps, strength, off, interest, pins: [{ x: 0, y: 0 }], held: ['expose'] }
    expect(readDevelopment(old)).toEqual(BUSY)
    expect(StoredDevelopmentSchema.parse(old)).toEqual(BUSY)
    // written by hand they are as they are today
    expect(() => readDevelopment({ steps, held: ['expose'] })).toThrow()
    expect(StoredDevelopmentSchema.safeParse({ format: 99 }).error?.issues[0].message).toMatch(/newer/)
  })

  it('in a change are brought up on both sides', () => {
    const same: Change = { part: 'grain', ...{ before: partOf(start, 'grain'), now: partOf(BUSY, 'grain') } }
    expect(ChangeSchema.parse({ ...same, version: 1 })).toEqual({ ...same, version: 1 })
    expect(ChangeSchema.safeParse({ ...same, version: 2 }).error?.issues[0].message).toMatch(/newer/)
  })
})
