import { startDevelopment } from '@dunkelkammer/core'
import { describe, expect, it } from 'vitest'
import { MAX_HISTORY, NameSchema, NewExportSchema, VersionStateSchema } from './index'

const id = '00000000-0000-4000-8000-000000000000'
const entry = { label: 'Exposure', development: startDevelopment() }

describe('contract', () => {
  it('keeps the place in the history inside it, and the history bounded', () => {
    expect(VersionStateSchema.safeParse({ history: [entry], cursor: 0 }).success).toBe(true)
    expect(VersionStateSchema.safeParse({ history: [entry], cursor: 1 }).success).toBe(false)
    expect(VersionStateSchema.safeParse({ history: [], cursor: 0 }).success).toBe(false)
    const long = Array.from({ length: MAX_HISTORY + 1 }, () => entry)
    expect(VersionStateSchema.safeParse({ history: long, cursor: 0 }).success).toBe(false)
  })

  it('takes file names that are names only', () => {
    const takes = (fileName: string) =>
      NewExportSchema.safeParse({ versionId: id, options: {}, fileName }).success
    for (const good of ['lock', 'Schleuse früh', '水門 (2)', 'a.b']) expect(takes(good), good).toBe(true)
    for (const bad of ['', '  ', '../x', 'a/b', 'a\\b', '.hidden', 'a\nb', 'x'.repeat(231), '水'.repeat(77)])
      expect(takes(bad), bad).toBe(false)
  })

  it('fills in what an export does not say, and refuses a JPEG of 16 bits', () => {
    const parsed = NewExportSchema.parse({ versionId: id, options: {}, fileName: 'a' })
    expect(parsed).toMatchObject({
      taken: 'ask',
      options: { format: 'jpeg', bits: 8, space: 'srgb', quality: 90 },
    })
    expect(
      NewExportSchema.safeParse({ versionId: id, options: { format: 'jpeg', bits: 16 }, fileName: 'a' })
        .success,
    ).toBe(false)
    expect(NewExportSchema.safeParse({ versionId: id, options: { colour: 1 }, fileName: 'a' }).success).toBe(
      false,
    )
  })

  it('trims names of shoots', () => {
    expect(NameSchema.parse('  Kiln ')).toBe('Kiln')
    expect(NameSchema.safeParse('x'.repeat(301)).success).toBe(false)
  })
})
