import { describe, expect, it } from 'vitest'
import { fieldsOf, stepById, STEP_IDS } from '../steps'
import {
  changesBetween,
  changeSentence,
  differencesOf,
  differenceSentence,
  readDevelopment,
  startDevelopment,
} from './index'

const start = startDevelopment()
const said = (part: object, from: object = {}) =>
  changesBetween(readDevelopment(from), readDevelopment(part)).flatMap(differencesOf).map(differenceSentence)
const sentence = (label: string, part: object, from: object = {}) =>
  changeSentence(label, changesBetween(readDevelopment(from), readDevelopment(part)))

describe('fields', () => {
  it('describe every step: a name, a label for each value, numbers with their ends and a step', () => {
    for (const id of STEP_IDS) {
      const { name, schema } = stepById.get(id)!
      expect(name, id).toBeTruthy()
      const fields = fieldsOf(id)
      // nothing of the settings is left undescribed, but for what is only looked at
      const described = new Set(fields.map((f) => f.path[0]))
      const known = Object.keys(schema.parse({}) as object)
      expect(
        known.filter((key) => !described.has(key)),
        id,
      ).toEqual([])
      for (const { label, kind, min, max, step, scale = 1, start: from, words, offers } of fields) {
        expect(label, id).toMatch(/^[A-Z]/)
        if (kind === 'number') {
          expect(min!, `${id} ${label}`).toBeLessThan(max!)
          expect(step, `${id} ${label}`).toBeGreaterThan(0)
          expect(step! / scale, `${id} ${label}`).toBeLessThan(max! - min!)
          expect(Number(from), `${id} ${label}`).toBeGreaterThanOrEqual(min!)
          expect(Number(from), `${id} ${label}`).toBeLessThanOrEqual(max!)
          if (offers) expect(offers[0] >= min! * scale && offers[1] <= max! * scale, label).toBe(true)
        }
        if (kind === 'switch') expect(Object.keys(words!)).toEqual(['true', 'false'])
      }
    }
  })
})

describe('differences', () => {
  it('are said with the numbers and units of the controls', () => {
    expect(said({ steps: { exposure: { ev: 0.7 } } }, { steps: { exposure: { ev: 0.35 } } })).toEqual([
      'Exposure +0.35 to +0.70 EV',
    ])
    expect(said({ steps: { haze: { strength: 0.5, depth: -0.2 } } })).toEqual([
      'Haze, amount 0 to +50 %',
      'Haze, limit to distance 0 to \u221220 %',
    ])
    expect(said({ steps: { tones: { shadows: { lift: 0.8 } } } })).toEqual(['Shadows 0.00 to +0.80 EV'])
    expect(said({ steps: { fringes: { redEdge: 0.0015 } } })).toEqual([
      'Fringes, red at the edges 0.00 to +1.50 ‰',
    ])
    expect(said({ steps: { noise: { mode: 'hand' } } })).toEqual(['Noise reduction off to manual'])
    expect(said({ steps: { primaries: { red: { turn: 3 } } } })).toEqual([
      'Primaries, red turned 0.0 to +3.0 °',
    ])
  })

  it('name what is too much for a number, what is switched, and how far it is let in', () => {
    expect(
      said({
        steps: {
          curve: {
            red: [
              [0, 0],
              [0.5, 0.6],
              [1, 1],
            ],
          },
        },
      }),
    ).toEqual(['Curve of red'])
    expect(said({ off: ['grain'] })).toEqual(['Film grain off'])
    expect(said({}, { off: ['grain'] })).toEqual(['Film grain on'])
    expect(said({ strength: { grain: 0.5 } })).toEqual(['Strength of film grain 100 % to 50 %'])
    expect(said({ steps: { demosaic: {}, crop: { inside: false } } })).toEqual([
      'Crop, no empty corners: off',
    ])
    expect(said({ interest: [{ x: 0, y: 0, width: 1, height: 1 }] })).toEqual(['Areas of interest'])
  })

  it('make one sentence of what was done, with the words of the command where they say more', () => {
    expect(sentence('Exposure', { steps: { exposure: { ev: 1 } } })).toBe('Exposure 0.00 to +1.00 EV')
    expect(sentence('Automatic exposure', { steps: { exposure: { ev: 1 } } })).toBe(
      'Automatic exposure: exposure 0.00 to +1.00 EV',
    )
    expect(sentence('Amount', { steps: { haze: { strength: 0.5 } } })).toBe('Haze, amount 0 to +50 %')
    expect(sentence('Film grain off', { off: ['grain'] })).toBe('Film grain off')
    // much at once is only named
    const much = { exposure: { ev: 1 }, haze: { strength: 0.5 }, grain: { strength: 0.1 } }
    expect(sentence('Automatic, all', { steps: much })).toBe('Automatic, all')
    expect(changeSentence('Nothing', changesBetween(start, start))).toBe('Nothing')
  })
})
