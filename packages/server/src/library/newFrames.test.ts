import { NewFramesSchema, type PresetEntry } from '@dunkelkammer/contract'
import { PortionSchema, startDevelopment } from '@dunkelkammer/core'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { join } from 'node:path'
import { root, temporary } from '../../test/server'
import { openDatabase, type Db } from '../db/open'
import { NewFrameRules } from './newFrames'

let place: ReturnType<typeof temporary>
let db: Db
let rules: NewFrameRules
const preset = (id: string, steps: object): PresetEntry => ({
  ...{ id, name: `Preset ${id}`, group: '', notes: '', scalable: true, ships: false, changed: false },
  portion: PortionSchema.parse({ steps }),
})
const PRESETS = [
  preset('little', { noise: { mode: 'hand', luminance: 0.4, colour: 0.6 } }),
  preset('much', { noise: { mode: 'hand', luminance: 1.2, colour: 1 } }),
  preset('hard', { baseRendering: { grade: 3 } }),
]
beforeAll(() => {
  place = temporary()
  db = openDatabase(join(place.path, 'library.db'), join(root, 'packages/server/drizzle'))
  rules = new NewFrameRules(db, { list: () => ({ presets: PRESETS, hidden: [], restorable: 0 }) })
})
afterAll(() => {
  db.close()
  place.remove()
})

const NONE = { kind: 'none', id: '', name: '' }
const set = (...all: object[]) =>
  (rules.rules = NewFramesSchema.parse({ rules: all.map((r) => ({ look: NONE, ...r })) }))
const begin = (iso?: number, more: object = {}) =>
  rules.beginning({
    make: 'Veldhoek',
    model: 'Veldrom 3',
    lens: 'Orvel 35 mm f/2',
    orientation: 1,
    iso,
    ...more,
  })

it('begins by the first rule that camera, lens and ISO meet', () => {
  set(
    { lens: '85 mm', presets: [{ preset: 'much' }] },
    { camera: 'veldrom', lens: 'orvel', isoFrom: 100, presets: [{ preset: 'hard', strength: 0.5 }] },
  )
  expect(begin(200)).toMatchObject({
    label: 'As taken, with Preset hard',
    development: { steps: { baseRendering: { grade: 2.5 } } },
  })
  expect(begin(200, { lens: 'Other 85 mm' }).development.steps.noise.luminance).toBe(1.2)
  expect(begin()).toEqual({ label: 'As taken', development: startDevelopment() })
})

it('holds values at some ISOs, and what lies between them by stops', () => {
  set({ presets: [{ preset: 'much', iso: 6400 }, { preset: 'little', iso: 400 }, { preset: 'hard' }] })
  const at = (iso?: number) => begin(iso).development.steps.noise
  expect(at(100)).toMatchObject({ luminance: 0.4, colour: 0.6 })
  expect(at(400).luminance).toBe(0.4)
  // two of four stops
  expect(at(1600).luminance).toBeCloseTo(0.8, 12)
  expect(at(3200)).toMatchObject({ mode: 'hand', luminance: expect.closeTo(1, 12) as number })
  expect(at(25600).luminance).toBe(1.2)
  // what has no ISO holds at any, and a frame that does not say its own has that alone
  for (const iso of [100, 1600, undefined]) expect(begin(iso).development.steps.baseRendering.grade).toBe(3)
  expect(at()).toEqual(startDevelopment().steps.noise)
})

it('passes over presets that are no more', () => {
  set({ presets: [{ preset: 'gone' }, { preset: 'hard' }] })
  expect(begin(100)).toMatchObject({ label: 'As taken, with Preset hard' })
  set({ presets: [{ preset: 'gone' }] })
  expect(begin(100)).toEqual({ label: 'As taken', development: startDevelopment() })
})

it('reads rules as they were before there were presets', () => {
  expect(NewFramesSchema.parse({ rules: [{ look: NONE, isoFrom: 3200 }] }).rules[0].presets).toEqual([])
})
