import { expect, it } from 'vitest'
import { changesBetween, DevelopmentSchema, readDevelopment, startDevelopment } from '../settings'
import { AreaSchema } from '../steps'
import { doneAgain, eachItem, itemsOf } from './index'

const start = startDevelopment()
const lead = (steps: object, from: object = {}) =>
  changesBetween(readDevelopment({ steps: from }), readDevelopment({ steps }))
const other = (steps: object, more = {}) => readDevelopment({ steps, ...more })

it('sets what was changed elsewhere, as the same value or by the same difference', () => {
  const changes = lead(
    { exposure: { ev: 1 }, relief: { fine: 0.5 }, edgeColour: { hue: 10 }, cameraColour: { kelvin: 5000 } },
    { exposure: { ev: 0.4 }, edgeColour: { hue: 350 }, cameraColour: { kelvin: 4000 } },
  )
  const to = other({
    exposure: { ev: -0.2 },
    relief: { fine: 0.8, broad: 0.1 },
    edgeColour: { hue: 345 },
    cameraColour: { kelvin: 5000 },
  })
  const same = doneAgain(to, changes)
  expect([same.steps.exposure.ev, same.steps.relief.fine, same.steps.edgeColour.hue]).toEqual([1, 0.5, 10])
  const moved = doneAgain(to, changes, 'difference').steps
  expect(moved.exposure.ev).toBe(0.4)
  // held to the end of the control, and what was not changed stays
  expect(moved.relief).toEqual({ fine: 1, medium: 0, broad: 0.1 })
  // by the shorter way around, and in mired: 250 to 200 is 50 less than 200
  expect(moved.edgeColour.hue).toBe(5)
  expect(moved.cameraColour.kelvin).toBeCloseTo(1e6 / 150, 6)
})

it('takes choices and curves as they are, strengths and switches too', () => {
  const from = readDevelopment({ steps: { grain: { strength: 0.2 } }, strength: { grain: 1 } })
  const to = readDevelopment({
    steps: { grain: { strength: 0.2 }, monochrome: { on: true, filter: 'red' } },
    strength: { grain: 0.7 },
    off: ['haze'],
  })
  const there = other({}, { strength: { grain: 1.4 } })
  const moved = doneAgain(there, changesBetween(from, to), 'difference')
  expect(moved.steps.monochrome).toMatchObject({ on: true, filter: 'red' })
  expect(moved.strength.grain).toBeCloseTo(1.1, 12)
  expect(moved.off).toEqual(['haze'])
  expect(moved.steps.grain).toEqual(start.steps.grain)
})

it('adds, changes and removes areas by what they are, and leaves others alone', () => {
  const [a, b, c] = ['a', 'b', 'c'].map((id) => AreaSchema.parse({ id }))
  const areas = (...list: object[]) => ({ areas: { areas: list } })
  const d = doneAgain(other(areas(a, c)), lead(areas({ ...a, name: 'Sky' }, b), areas(a)))
  expect(d.steps.areas.areas).toEqual([{ ...a, name: 'Sky' }, c, b])
  const gone = doneAgain(d, lead(areas(b), areas({ ...a, name: 'Sky' }, b)))
  expect(gone.steps.areas.areas).toEqual([c, b])
})

it('never makes settings that a step refuses, and no new object where nothing changes', () => {
  const changes = lead({ tones: { shadows: { at: -1 } } }, { tones: { shadows: { at: -4 } } })
  const d = doneAgain(other({ tones: { midTones: { at: -1.5 } } }), changes, 'difference')
  expect(DevelopmentSchema.safeParse(d).success).toBe(true)
  expect(doneAgain(start, lead({ exposure: { ev: 0 } }, { exposure: { ev: 1 } }))).toBe(start)
})

it('tells the items of lists that a change speaks of, and takes others in their place', () => {
  const [a, b] = ['a', 'b'].map((id) => AreaSchema.parse({ id }))
  const [change] = lead({ areas: { areas: [a, { ...b, name: 'Sky' }] } }, { areas: { areas: [a, b] } })
  expect(itemsOf(change.now.settings)).toEqual([{ ...b, name: 'Sky' }])
  const renamed = eachItem(change, (item) => ({ ...item, id: `${item.id}2` }))
  expect(itemsOf(renamed.now.settings)).toMatchObject([{ id: 'b2', name: 'Sky' }])
  const d = doneAgain(other({ areas: { areas: [a, { ...b, id: 'b2' }] } }), [renamed])
  expect(d.steps.areas.areas.map((x) => x.name)).toEqual(['', 'Sky'])
})
