import { z } from 'zod'
import { describe, expect, it } from 'vitest'
import {
  MOST_PRESET,
  PresetFileSchema,
  presetFile,
  readPreset,
  readPresetText,
  SHIPPED_PRESETS,
} from './index'

const written = (more: object = {}) => ({
  kind: 'dunkelkammer-preset',
  format: 1,
  name: 'Mine',
  steps: { relief: { fine: 0.3 } },
  ...more,
})

describe('a preset’s file', () => {
  it('holds every shipped preset, and its schema takes what is written', () => {
    for (const { id, ...preset } of SHIPPED_PRESETS) {
      const file = JSON.parse(JSON.stringify(presetFile(preset))) as unknown
      expect(PresetFileSchema.safeParse(file).success, id).toBe(true)
      const { preset: read, leftOut } = readPreset(file)
      expect(read, id).toEqual(preset)
      expect(leftOut).toEqual([])
    }
  })

  it('can be described as JSON Schema', () => {
    const schema = z.toJSONSchema(PresetFileSchema, { io: 'input' })
    expect(Object.keys(schema.properties!)).toEqual(
      expect.arrayContaining(['kind', 'format', 'name', 'steps', 'areas', 'automatic']),
    )
    expect(schema.required).toEqual(expect.arrayContaining(['kind', 'format', 'name']))
  })

  it('of a newer Dunkelkammer does what is known, and says what not', () => {
    const { preset, leftOut } = readPreset(
      written({
        format: 2,
        glow: 1,
        steps: {
          relief: { fine: 0.3, huge: 0.1 },
          shimmer: { amount: 1 },
          noise: { mode: 'deep' },
          grain: { strength: 0.1 },
        },
        versions: { grain: 9 },
      }),
    )
    expect(preset.portion.steps).toEqual({ relief: { fine: 0.3 } })
    expect(leftOut).toHaveLength(6)
    for (const word of ['newer', 'glow', 'shimmer', 'huge', 'noise', 'grain'])
      expect(leftOut.filter((s) => s.includes(word)).length, word).toBeGreaterThan(0)
  })
})

describe('what was painted', () => {
  const shape = { id: 's', kind: 'stroke' }
  const painted = (path: unknown, more = {}) =>
    written({ areas: [{ id: 'a', mask: { shapes: [{ ...shape, path, radius: 0.02 }] } }], ...more })
  const places = [[0.2, 0.3], [0.4, 0.35]] // prettier-ignore

  it('may be written as places by hand, and goes along in the file', () => {
    const { preset, bulk } = readPreset(painted(places))
    const [name] = bulk.keys()
    expect(preset.portion.areas[0].mask.shapes).toMatchObject([{ path: name }])
    const again = readPreset(JSON.parse(JSON.stringify(presetFile(preset, bulk))))
    expect(again.preset).toEqual(preset)
    expect([...again.bulk]).toEqual([...bulk])
  })

  it('is refused where it is missing, or is not what it is called', () => {
    const { preset, bulk } = readPreset(painted(places))
    expect(() => readPreset(presetFile(preset))).toThrow(/not in the file/)
    const damaged = new Map([...bulk].map(([name, bytes]) => [name, bytes.slice(1)]))
    expect(() => readPreset(presetFile(preset, damaged))).toThrow(/damaged/)
    expect(() => readPreset(painted([['x', 2]]))).toThrow(/path/)
  })
})

describe('what is no preset', () => {
  const refused = (value: unknown) => {
    try {
      readPreset(value)
    } catch (error) {
      expect((error as Error).name).toBe('Error')
      return (error as Error).message
    }
    throw new Error('it was taken')
  }

  it.each([
    ['nothing', null, /not a preset/],
    ['another file', { format: 1, steps: {} }, /not a preset/],
    ['no name', written({ name: '  ' }), /name/],
    ['no format', written({ format: 'x' }), /format/],
    ['a number out of range', written({ steps: { relief: { fine: 30 } } }), /relief\.fine/],
    ['a number that is none', written({ steps: { exposure: { ev: 'much' } } }), /exposure\.ev/],
    ['a strength out of range', written({ strength: { relief: 9 } }), /strength\.relief/],
    [
      'a list that is too long',
      written({ steps: { hueNodes: { nodes: Array(99).fill({ hue: 1 }) } } }),
      /nodes/,
    ],
    ['unknown steps alone', written({ steps: { shimmer: {} } }), /nothing that is known.*shimmer/],
    [
      'the inside of an object',
      written({ steps: JSON.parse('{"__proto__": {"fine": 1}}') as object }),
      /nothing/,
    ],
  ])('%s is refused with a sentence', (_, value, sentence) => {
    const message = refused(value)
    expect(message).toMatch(sentence)
    expect(message.length).toBeLessThan(400)
  })

  it('is told from its text: too long, no JSON, deeply nested', () => {
    expect(() => readPresetText('x'.repeat(MOST_PRESET + 1))).toThrow(/at most 4 MB/)
    expect(() => readPresetText('{"kind":')).toThrow(/not JSON/)
    const deep = 200_000
    const nested = `${'{"a":'.repeat(deep)}1${'}'.repeat(deep)}`
    expect(() => readPresetText(nested)).toThrow(/not a preset/)
    const inside = JSON.stringify(written()).replace('"steps":', `"deep":${nested},"steps":`)
    expect(readPresetText(inside).leftOut).toHaveLength(1)
    const names = Object.fromEntries(
      Array.from({ length: 20_000 }, (_, i) => [`step-${i}-${'n'.repeat(90)}`, {}]),
    )
    const { leftOut } = readPresetText(
      JSON.stringify(written({ steps: { ...names, relief: { fine: 0.1 } } })),
    )
    expect(leftOut.length).toBeLessThan(12)
    expect(leftOut.join('').length).toBeLessThan(1200)
  })
})
