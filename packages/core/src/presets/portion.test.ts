import { describe, expect, it } from 'vitest'
import { AreaSchema, HueNodeSchema, stepById } from '../steps'
import { DevelopmentSchema, readDevelopment, startDevelopment, type Development } from '../settings'
import {
  appliedAt,
  changedOf,
  choicesOf,
  emptyPortion,
  portionOf,
  SHIPPED_PRESETS,
  stepsSetBy,
  withPortion,
  wordsOf,
  type Portion,
} from './index'

const start = startDevelopment()
const ids = () => {
  let n = 0
  return () => `new ${n++}`
}
const applied = (steps: object, strength: number, to: Development | object = start, more = {}) =>
  withPortion(readDevelopment(to), { ...emptyPortion(), steps, ...more } as Portion, strength, ids())

describe('strength', () => {
  it('0 changes nothing, not even an object', () => {
    for (const { portion } of SHIPPED_PRESETS) expect(withPortion(start, portion, 0, ids())).toBe(start)
  })

  it('lets amounts in from what is there, and beyond 100 % from nothing, within their range', () => {
    const ev = (strength: number, now: number) =>
      applied({ baseRendering: { grade: 3, shoulder: 0.8 } }, strength, {
        steps: { baseRendering: { grade: now } },
      }).steps.baseRendering
    expect(ev(0.5, 2)).toMatchObject({ grade: 2.5, shoulder: 0.4 })
    expect(ev(0.5, 1).grade).toBe(2)
    expect(ev(1, 1).grade).toBe(3)
    // grade 2 is the normal one
    expect(ev(1.5, 1)).toMatchObject({ grade: 3.5, shoulder: 1 })
  })

  it('mixes a step that did nothing, and leaves its numbers as the preset says', () => {
    const d = applied({ grain: { strength: 0.4, size: 2 } }, 0.5)
    expect(d.steps.grain).toEqual({ strength: 0.4, size: 2 })
    expect(d.strength.grain).toBe(0.5)
    expect(
      applied({ grain: { strength: 0.4 } }, 1.5, start, { strength: { grain: 1.2 } }).strength.grain,
    ).toBe(1.5)
  })

  it('goes halfway where a step was at work, and mixes what has no middle', () => {
    const half = applied({ relief: { fine: 0.8 } }, 0.5, { steps: { relief: { fine: 0.2, broad: 0.3 } } })
    expect(half.steps.relief.fine).toBeCloseTo(0.5, 12)
    expect(half.steps.relief.broad).toBe(0.3)
    expect(half.strength.relief).toBeUndefined()
    const look = applied({ look: { kind: 'own', id: 'tea', name: 'Tea' } }, 0.5, {
      steps: { look: { kind: 'own', id: 'ink', name: 'Ink' } },
    })
    expect(look.steps.look.id).toBe('tea')
    expect(look.strength.look).toBe(0.5)
  })

  it('mixes a step that was switched off as one that did nothing', () => {
    const d = applied({ relief: { fine: 0.8 } }, 0.5, { steps: { relief: { broad: 0.4 } }, off: ['relief'] })
    expect(d.steps.relief).toMatchObject({ fine: 0.8, broad: 0.4 })
    expect(d.strength.relief).toBe(0.5)
    expect(d.off).toEqual([])
  })

  it('is wholly or not at all where a preset does not scale', () => {
    expect([0, 0.3, 1, 1.5].map((s) => appliedAt({ scalable: false }, s))).toEqual([0, 1, 1, 1])
    expect(appliedAt({ scalable: true }, 0.3)).toBe(0.3)
  })

  it('switches a step on that was off, unless the portion says otherwise', () => {
    const off = { ...start, off: ['grain' as const] }
    expect(applied({ grain: { strength: 0.2 } }, 1, off).off).toEqual([])
    expect(applied({ grain: { strength: 0.2 } }, 1, start, { off: { grain: true } }).off).toEqual(['grain'])
  })
})

describe('a portion', () => {
  it('sets its fields alone', () => {
    const d = applied({ tones: { shadows: { lift: 0.5 } } }, 1, {
      steps: { tones: { shadows: { at: -3 }, midTones: { lift: 0.2 } }, exposure: { ev: 2 } },
    })
    expect(d.steps.tones.shadows).toEqual({ at: -3, lift: 0.5 })
    expect(d.steps.tones.midTones.lift).toBe(0.2)
    expect(d.steps.exposure.ev).toBe(2)
  })

  it('never makes settings that a step refuses', () => {
    // the grips of tones keep their order
    const d = applied({ tones: { shadows: { at: 1.2, lift: 0.4 } } }, 1, {
      steps: { tones: { midTones: { at: 0.4 } } },
    })
    expect(DevelopmentSchema.safeParse(d).success).toBe(true)
  })

  it('brings hue nodes to those that are there, in place of those of the same hue', () => {
    const node = (hue: number, colour = 0) => ({ hue, colour })
    const of = (nodes: object[], more: object[], strength = 1) =>
      applied(
        {},
        strength,
        { steps: { hueNodes: { nodes } } },
        {
          nodes: more.map((n) => HueNodeSchema.parse(n)),
        },
      ).steps.hueNodes.nodes.map((n) => [n.hue, n.colour])
    expect(of([node(30, 0.1), node(200)], [node(30, 0.8), node(90, -0.4)], 0.5)).toEqual([
      [30, 0.4],
      [90, -0.2],
      [200, 0],
    ])
    expect(of([], [node(10, 0.9)], 1.5)).toEqual([[10, 1]])
    // where there is no room, only those that do nothing make it
    const full = Array.from({ length: 12 }, (_, i) => node(i * 30, i % 2 && 0.3))
    const after = of(full, [node(45, 0.5), node(46, 0.5)])
    expect(after).toHaveLength(12)
    expect(after.filter(([, colour]) => colour === 0)).toHaveLength(4)
    expect(after.filter(([, colour]) => colour === 0.3)).toHaveLength(6)
  })

  it('brings areas and patches to those that are there, with names of their own', () => {
    const area = AreaSchema.parse({
      id: 'a',
      mask: {
        shapes: [{ id: 's', kind: 'found', what: 'sky', corrections: [{ belongs: true, at: [[0.5, 0.5]] }] }],
      },
    })
    const patch = { id: 'p', x: 0.2, y: 0.3 }
    const there = readDevelopment({ steps: { patches: { patches: [patch] }, areas: { areas: [area] } } })
    const portion = portionOf(there, choicesOf(there))
    const d = withPortion(there, portion, 1, ids())
    expect(d.steps.patches.patches.map((p) => p.id)).toEqual(['p', 'new 0'])
    expect(d.steps.areas.areas.map((a) => a.id)).toEqual(['a', 'new 1'])
    // what was corrected by hand in one picture is found anew in another
    expect(d.steps.areas.areas[1].mask.shapes).toMatchObject([{ kind: 'found', corrections: [] }])
  })
})

describe('choosing', () => {
  const worked = readDevelopment({
    steps: {
      level: { angle: 2 },
      cameraColour: { source: 'sample', samples: [{ x: 0.5, y: 0.5, neutral: [1, 1, 1] }] },
      relief: { fine: 0.3 },
      patches: { patches: [{ id: 'p', x: 0.1, y: 0.1 }] },
    },
    strength: { relief: 0.5 },
    off: ['haze'],
  })

  it('leaves out what belongs to one frame unless it is asked for', () => {
    const own = choicesOf(worked).filter((c) => c.ofFrame)
    expect(own.map((c) => c.key)).toEqual(['level', 'perspective', 'crop', 'cameraColour samples', 'patches'])
    const portion = portionOf(
      worked,
      choicesOf(worked).filter((c) => !c.ofFrame),
    )
    const d = withPortion(start, portion, 1, ids())
    expect(d.steps.cameraColour).toMatchObject({ source: 'sample', samples: [] })
    expect(d.steps.relief.fine).toBe(0.3)
    expect(d.strength).toEqual({ relief: 0.5 })
    expect(d.off).toEqual(['haze'])
    for (const id of ['level', 'crop', 'perspective', 'patches'] as const)
      expect(d.steps[id]).toEqual(start.steps[id])
    expect(changedOf(worked).map((c) => c.key)).toEqual(['cameraColour', 'haze', 'relief'])
  })

  it('takes everything along where everything is chosen', () => {
    const d = withPortion(start, portionOf(worked, choicesOf(worked)), 1, () => 'p')
    expect(d).toEqual(worked)
  })

  it('gives an area its own mask where that of another is left behind', () => {
    const mask = { shapes: [{ id: 's', kind: 'found', what: 'sky' }] }
    const areas = [
      { id: 'a', mask },
      { id: 'b', maskOf: 'a' },
    ]
    const d = readDevelopment({ steps: { areas: { areas } } })
    const [area] = portionOf(
      d,
      choicesOf(d).filter((c) => c.key === 'area b'),
    ).areas
    expect(area.maskOf).toBeUndefined()
    const both = portionOf(d, choicesOf(d)).areas
    expect(both.map((a) => a.maskOf)).toEqual([undefined, 'a'])
    expect(both[1].mask.shapes).toEqual([])
    expect(area.mask.shapes).toMatchObject([{ what: 'sky' }])
  })
})

describe('shipped presets', () => {
  it('are at least thirty for one purpose, and whole looks, each with its own name', () => {
    const names = SHIPPED_PRESETS.map((p) => p.name)
    expect(new Set(names).size).toBe(names.length)
    expect(new Set(SHIPPED_PRESETS.map((p) => p.id)).size).toBe(names.length)
    const looks = SHIPPED_PRESETS.filter((p) => p.group === 'Whole looks')
    expect(looks.length).toBeGreaterThanOrEqual(8)
    expect(names.length - looks.length).toBeGreaterThanOrEqual(30)
    for (const p of SHIPPED_PRESETS) expect(p.notes, p.id).toMatch(/^[A-Z].*\.$/)
  })

  it('leave the frame alone, and exposure and white balance to the picture', () => {
    for (const { id, group, portion } of SHIPPED_PRESETS) {
      if (group === 'From each picture') continue
      const set = stepsSetBy(portion)
      expect(
        set.filter((s) => stepById.get(s)!.belongs === 'frame'),
        id,
      ).toEqual([])
      if (group !== 'Reset')
        expect(
          set.filter((s) => s === 'exposure' || s === 'cameraColour'),
          id,
        ).toEqual([])
    }
  })

  it('say what they set', () => {
    const said = (id: string) =>
      wordsOf(SHIPPED_PRESETS.find((p) => p.id === id)!.portion).map(({ name, lines }) => [name, ...lines])
    expect(said('shade-half')).toEqual([['Tones', 'Deep shadows +0.35 EV', 'Shadows +0.70 EV']])
    expect(said('auto-tone').map(([, line]) => line)).toEqual([
      'Automatic exposure',
      'Automatic tones',
      'Automatic points',
    ])
    expect(said('back-finish')).toEqual([
      ['Edge burn', 'Reset'],
      ['Film grain', 'Reset'],
    ])
    for (const { id, portion } of SHIPPED_PRESETS)
      for (const { lines } of wordsOf(portion)) expect(lines, id).not.toEqual([])
  })
})
