import { describe, expect, it } from 'vitest'
import { MAX_LABEL, NameSchema, OperationSchema } from './index'

const id = '00000000-0000-4000-8000-000000000000'

describe('contract', () => {
  it('takes changes of settings that are some, and cuts what is too long to be said', () => {
    const change = (now: object, part = 'exposure') => ({
      ...{ kind: 'change', id, parent: null, label: 'x'.repeat(500), time: '2026-03-01T06:00:00Z' },
      changes: [{ part, before: { settings: { ev: 0 } }, now }],
    })
    const take = (o: object) => OperationSchema.safeParse(o)
    expect(take(change({ settings: { ev: 1 }, strength: 0.5, off: true }))).toMatchObject({
      data: { label: 'x'.repeat(MAX_LABEL) },
    })
    for (const wrong of [
      { settings: { ev: 7 } },
      { settings: {}, strength: 2 },
      { settings: { ev: 1 }, on: true },
    ])
      expect(take(change(wrong)).success).toBe(false)
    expect(take(change({ settings: { ev: 1 } }, 'sepia')).success).toBe(false)
    expect(take({ ...change({ settings: { ev: 1 } }), changes: [] }).success).toBe(false)
  })

  it('trims names of shoots', () => {
    expect(NameSchema.parse('  Kiln ')).toBe('Kiln')
    expect(NameSchema.safeParse('x'.repeat(301)).success).toBe(false)
  })
})
