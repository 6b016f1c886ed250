import { expect, it } from 'vitest'
import type { Entry, LogPlace, PresetMark } from '../log'
import {
  applyChanges,
  changesBetween,
  readDevelopment,
  startDevelopment,
  type Development,
} from '../settings'
import { AreaSchema } from '../steps'
import { emptyPortion, SHIPPED_PRESETS, withApplication, withPortion, type Portion } from './index'

/** A log of one version, as a window keeps it. */
class Log {
  private readonly entries = new Map<string, Entry>()
  head: LogPlace = null
  constructor(public development: Development) {}
  get = (id: string) => this.entries.get(id)

  change(to: Development, preset?: PresetMark) {
    const changes = changesBetween(this.development, to)
    const id = `e${this.entries.size}`
    const entry = { id, parent: this.head, label: 'x', changes, time: '', ...(preset && { preset }) }
    this.entries.set(id, entry)
    this.development = applyChanges(this.development, changes)
    this.head = id
  }

  apply(application: string, portion: Portion, strength: number) {
    const mark = { application, name: application, strength, from: this.head }
    let n = 0
    this.change(
      withPortion(this.development, portion, strength, () => `${application}-${n++}`),
      mark,
    )
  }

  again(application: string, strength: number, portion?: Portion) {
    const first = [...this.entries.values()].find((e) => e.preset?.application === application)!
    let n = 0
    const to = withApplication(
      this,
      application,
      portion && ((d) => withPortion(d, portion, strength, () => `${application}-${n++}`)),
    )
    this.change(to!, { ...first.preset!, strength })
  }
}

const WORKED = readDevelopment({
  steps: {
    exposure: { ev: 0.8 },
    tones: { shadows: { lift: 0.3 } },
    relief: { medium: 0.5 },
    monochrome: { on: true, filter: 'green' },
    noise: { mode: 'hand', luminance: 0.4 },
    look: { kind: 'own', id: 'reeds', name: 'Reeds' },
    edgeBurn: { ev: -1 },
  },
  strength: { relief: 0.7, look: 0.4 },
  off: ['noise'],
})

/** Numbers that look random, and are the same each time. */
function* numbers(seed: number): Generator<number, never> {
  for (let x = seed; ; x = (x * 1103515245 + 12345) & 0x7fffffff) yield ((x >> 8) & 0xffff) / 0x10000
}

it('takes every shipped preset off exactly, at any strength and in any order of three', () => {
  const draw = numbers(7)
  const pick = <T>(list: readonly T[]) => list[Math.floor(draw.next().value * list.length)]
  const shuffled = <T>(list: readonly T[]) =>
    list.map((v) => [draw.next().value, v] as const).sort((a, b) => a[0] - b[0]).map(([, v]) => v) // prettier-ignore
  for (const from of [startDevelopment(), WORKED])
    for (const one of SHIPPED_PRESETS)
      for (const strength of [0, 0.5, 1, 1.5]) {
        const log = new Log(from)
        const three = shuffled([one, pick(SHIPPED_PRESETS), pick(SHIPPED_PRESETS)])
        three.forEach((p, i) => log.apply(`p${i}`, p.portion, p === one ? strength : pick([0.5, 1, 1.5])))
        for (const at of shuffled([0, 1, 2])) log.again(`p${at}`, 0)
        expect(log.development, `${one.id} at ${strength} of ${three.map((p) => p.id).join()}`).toEqual(from)
      }
})

it('keeps what was done by hand since, and presets that are still on', () => {
  const start = startDevelopment()
  const set = (d: Development, steps: object) => readDevelopment({ ...d, steps: { ...d.steps, ...steps } })
  const grain = { ...emptyPortion(), steps: { grain: { strength: 0.2 }, exposure: { ev: 1 } } }
  const log = new Log(start)
  log.apply('one', grain, 1)
  log.change(set(log.development, { exposure: { ev: 1.4 }, points: { black: -6 } }))
  log.apply('two', { ...emptyPortion(), steps: { grain: { strength: 0.6 } } }, 1)
  log.again('one', 0)
  expect(log.development).toEqual(
    set(start, { exposure: { ev: 1.4 }, points: { black: -6 }, grain: { strength: 0.6 } }),
  )
  log.again('two', 0)
  expect(log.development.steps.grain).toEqual(start.steps.grain)
  expect(log.development.steps.exposure.ev).toBe(1.4)
})

it('lets presets of single hues stand beside each other', () => {
  const log = new Log(startDevelopment())
  const worked = () => log.development.steps.hueNodes.nodes.filter((n) => n.colour !== 0 || n.light !== 0)
  const [reds, blues] = ['reds-earth', 'blues-deep'].map((id) => SHIPPED_PRESETS.find((p) => p.id === id)!)
  log.apply('reds', reds.portion, 1)
  log.apply('blues', blues.portion, 0.5)
  expect(worked().map((n) => [n.hue, n.light])).toEqual([
    [40, -0.12],
    [250, -0.11],
  ])
  log.again('reds', 0)
  expect(worked().map((n) => n.hue)).toEqual([250])
  log.again('blues', 0)
  expect(log.development).toEqual(startDevelopment())
})

it('changes how far a preset is applied at its place, under what came after', () => {
  const exposure = (ev: number) => ({ ...emptyPortion(), steps: { exposure: { ev }, grain: { size: 2 } } })
  const log = new Log(startDevelopment())
  log.apply('one', exposure(1), 1)
  log.apply('two', { ...emptyPortion(), steps: { exposure: { ev: 3 } } }, 1)
  log.again('one', 0.5, exposure(1))
  expect(log.development.steps.exposure.ev).toBe(3)
  log.again('two', 0)
  log.again('one', 0)
  expect(log.development).toEqual(startDevelopment())
})

it('takes its areas along, with what was done to them since', () => {
  const area = AreaSchema.parse({ id: 'a', name: 'Sky', steps: { exposure: { ev: -1 } } })
  const portion = { ...emptyPortion(), areas: [area, { ...area, id: 'b', maskOf: 'a' }] }
  const log = new Log(startDevelopment())
  log.apply('one', portion, 0.5)
  const [first, second] = log.development.steps.areas.areas
  expect(first).toMatchObject({ id: 'one-0', strength: 0.5 })
  expect(second).toMatchObject({ id: 'one-1', maskOf: 'one-0' })
  const own = AreaSchema.parse({ id: 'own', name: 'Mine' })
  const areas = [{ ...first, name: 'Renamed' }, second, own]
  log.change({ ...log.development, steps: { ...log.development.steps, areas: { areas } } })
  log.again('one', 0)
  expect(log.development.steps.areas.areas).toEqual([own])
})

it('does not guess where the log is not known far enough', () => {
  const log = new Log(startDevelopment())
  log.apply('one', { ...emptyPortion(), steps: { exposure: { ev: 1 } } }, 1)
  log.change(readDevelopment({ steps: { exposure: { ev: 2 } } }))
  const get = (id: string) => (id === 'e0' ? undefined : log.get(id))
  expect(
    withApplication({ ...log, get, head: log.head, development: log.development }, 'one'),
  ).toBeUndefined()
})
