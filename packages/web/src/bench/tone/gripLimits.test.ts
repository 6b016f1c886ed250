import { TonesSchema } from '@dunkelkammer/core'
import { describe, expect, it } from 'vitest'
import { heldGrip } from './gripLimits'

describe('grips', () => {
  it('keep their order', () => {
    const tones = TonesSchema.parse({})
    expect(heldGrip(tones, 'shadows', 5)).toBe(tones.midTones.at - 0.5)
    expect(heldGrip(tones, 'shadows', -9)).toBe(tones.deepShadows.at + 0.5)
    expect(heldGrip(tones, 'deepShadows', -99)).toBe(-8)
  })
})
