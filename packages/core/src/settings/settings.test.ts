import { describe, expect, it } from 'vitest'
import { makePlan, startAfterKept, withoutStages, withoutSteps } from '../pipeline'
import { STEP_IDS, STEPS, type StepId } from '../steps'
import { DevelopmentSchema, readDevelopment, stageSummary, startDevelopment } from './index'

describe('settings', () => {
  it('have every step of the list, each once, and parts that go by one of them', () => {
    const ids = STEPS.map((s) => s.id)
    expect(new Set(ids).size).toBe(ids.length)
    expect(Object.keys(startDevelopment().steps)).toEqual([...STEP_IDS])
    for (const { id, settingsOf, schema, neutral } of STEPS) {
      expect((STEP_IDS as readonly string[]).includes(settingsOf ?? id), id).toBe(true)
      expect((STEP_IDS as readonly string[]).includes(id), id).toBe(!settingsOf)
      expect(schema.parse(neutral), id).toEqual(neutral)
    }
  })

  it('take defaults for what is missing and refuse what is unknown or out of range', () => {
    const d = readDevelopment({ steps: { exposure: { ev: 1.5 } } })
    expect(d.steps.exposure.ev).toBe(1.5)
    expect(d.steps.baseRendering.grade).toBe(2)
    expect(() => readDevelopment({ steps: { exposure: { ev: 9 } } })).toThrow()
    expect(() => readDevelopment({ steps: { sepia: {} } })).toThrow()
    expect(() => readDevelopment({ format: 99 })).toThrow(/newer/)
  })

  it('survive a round trip through JSON', () => {
    const d = DevelopmentSchema.parse({
      strength: { exposure: 0.5 },
      steps: { cameraColour: { source: 'kelvin', kelvin: 3200 } },
    })
    expect(readDevelopment(JSON.parse(JSON.stringify(d)))).toEqual(d)
  })

  it('are summed up in one line a stage', () => {
    const d = readDevelopment({ steps: { exposure: { ev: -0.7 }, baseRendering: { grade: 2.5 } } })
    expect(stageSummary('expose', d)).toBe('\u22120.7 EV, grade 2.5')
    expect(stageSummary('balance', d)).toBe('')
    const more = readDevelopment({
      steps: {
        tones: { shadows: { lift: 1 } },
        recovery: { amount: 0.4 },
        cameraColour: { source: 'lamp', lamp: 'shade' },
        monochrome: { on: true, filter: 'red' },
        tints: { stops: [{ at: 0.4, strength: 0.5 }] },
        edgeBurn: { ev: -0.8 },
      },
      off: ['tints'],
    })
    expect(stageSummary('expose', more)).toBe('recovery 40 %, tones')
    expect(stageSummary('balance', more)).toBe('shade, monochrome, red filter')
    expect(stageSummary('finish', more)).toBe('edges \u22120.8 EV')
    const square = (steps: object) => stageSummary('square-up', readDevelopment({ steps }))
    expect(square({})).toBe('')
    expect(
      square({
        lens: { choice: 'automatic' },
        level: { angle: -1.25, turns: 1, mirror: true },
        perspective: { tilt: 3 },
        crop: { rect: { centre: [0.5, 0.3], width: 0.5, height: 0.3 } },
      }),
    ).toBe('lens, \u22121.25\u00b0, turned, mirrored, perspective, cropped')
    expect(
      square({ lens: { choice: 'hand', bend: -0.02 }, fallOff: { ev: 0.4 }, crop: { inside: false } }),
    ).toBe('lens, manual, fall-off, empty corners')
    // lines drawn without effect, and sizes on paper, change no picture
    expect(
      square({
        lens: { choice: 'hand' },
        perspective: { guides: [{ is: 'level', from: [0, 0], to: [1, 0] }] },
        crop: { paper: 20, ratio: 'din' },
      }),
    ).toBe('')
    expect(
      stageSummary(
        'balance',
        readDevelopment({ steps: { cameraColour: { source: 'kelvin', kelvin: 3200, tint: 4 } } }),
      ),
    ).toBe('3200 K, tint +4')
  })
})

describe('what a step says of itself', () => {
  const WORDS: readonly [StepId, object, string][] = [
    ['defects', { mend: false }, 'defects not mended'],
    ['defects', { threshold: 7 }, 'defects at 7.0'],
    ['greenBalance', { even: false }, 'greens not equalised'],
    ['highlights', { rebuild: 0.25 }, 'rebuild 25 %'],
    ['noise', { mode: 'automatic' }, 'noise'],
    ['noise', { mode: 'hand', luminance: 0.6 }, 'noise 60 %'],
    ['demosaic', { falseColour: 1 }, 'false colour 100 %'],
    ['lens', { choice: 'automatic' }, 'lens'],
    ['lens', { choice: 'hand', bend: 0.06 }, 'lens, manual'],
    ['lens', { choice: 'hand' }, ''],
    ['fringes', { source: 'none' }, 'fringes off'],
    ['fringes', { source: 'own', redEdge: 0.001 }, 'fringes'],
    ['fallOff', { ev: 1 }, 'fall-off'],
    ['level', { angle: 2.5 }, '+2.5\u00b0'],
    ['perspective', { swing: 4 }, 'perspective'],
    ['perspective', { squeeze: 0.1 }, 'reshaped'],
    ['crop', { inside: false }, 'empty corners'],
    ['enlarge', { factor: 1.5 }, '1.5 \u00d7'],
    ['sharpen', { amount: 0.8 }, 'sharp 80 %'],
    ['unsharp', { strength: 1 }, 'unsharp mask'],
    ['cameraColour', { source: 'sample', samples: [{ x: 0.1, y: 0.1, neutral: [1, 1, 1] }] }, 'grey picked'],
    ['cameraColour', { profile: 'file' }, 'file\u2019s tables'],
    ['edgeColour', { amount: 0.5 }, 'coloured edges'],
    ['haze', { strength: 0.5 }, 'haze removed'],
    ['haze', { strength: -0.5 }, 'haze added'],
    ['exposure', { ev: 1.25 }, '+1.25 EV'],
    ['evenLighting', { amount: 0.5 }, 'evened'],
    ['points', { white: 2 }, 'points'],
    ['relief', { medium: 0.4 }, 'relief'],
    ['relief', { fine: -0.4 }, 'softened'],
    ['baseRendering', { brightness: -0.5 }, 'brightness \u22120.5'],
    [
      'baseRendering',
      { grade: 3, toe: 0.2, rendering: 'file' },
      'grade 3.0, shoulder and toe, from the file',
    ],
    ['primaries', { red: { turn: 10 } }, 'primaries'],
    ['rangeCurve', { all: { low: 0.5 } }, 'curve'],
    ['hueNodes', { nodes: [{ hue: 90, shift: 20 }] }, 'hues'],
    ['colourfulness', { all: 0.3 }, 'colourfulness'],
    ['tints', { stops: [{ at: 0.4, strength: 0.5 }] }, 'tints'],
    ['monochrome', { on: true }, 'monochrome'],
    ['monochrome', { filter: 'red' }, ''],
    ['toning', { toner: 'sepia', strength: 0.5 }, 'toned'],
    ['grain', { strength: 0.3 }, 'grain 30 %'],
  ]
  it.each(WORDS)('%s %j: %s', (id, settings, words) => {
    const steps = { [id]: settings }
    const stage = STEPS.find((s) => s.id === id)!.stage
    expect(stageSummary(stage, readDevelopment({ steps }))).toBe(words)
    expect(stageSummary(stage, readDevelopment({ steps, off: [id] }))).toBe('')
  })

  it('is said once where two say the same', () => {
    const both = {
      curve: {
        luminance: [
          [0, 0],
          [0.4, 0.5],
          [1, 1],
        ],
      },
      rangeCurve: { all: { low: 0.5 } },
    }
    expect(stageSummary('expose', readDevelopment({ steps: both }))).toBe('curve')
  })
})

describe('plan', () => {
  const ids = (d: unknown, space: 'srgb' | 'camera' | 'linear-rec2020' = 'srgb') => {
    const plan = makePlan(readDevelopment(d), space)
    return [...plan.develop, ...plan.render].map((p) => p.id)
  }
  it('leaves out what would change nothing', () => {
    expect(ids({})).toEqual([
      'defects',
      'greenBalance',
      'highlights',
      'demosaic',
      'cameraColour',
      'baseRendering',
    ])
    const off = { defects: { mend: false }, greenBalance: { even: false } }
    expect(ids({ steps: { ...off, exposure: { ev: 1 } } })).toEqual([
      'highlights',
      'demosaic',
      'cameraColour',
      'exposure',
      'baseRendering',
    ])
    expect(ids({ strength: { exposure: 0 }, steps: { exposure: { ev: 1 } } })).not.toContain('exposure')
  })

  it('ends where the output wants the light', () => {
    expect(ids({ steps: { exposure: { ev: 1 } } }, 'linear-rec2020')).toEqual([
      'defects',
      'greenBalance',
      'highlights',
      'demosaic',
      'cameraColour',
      'exposure',
    ])
    expect(ids({}, 'camera')).toEqual(['defects', 'greenBalance', 'highlights', 'demosaic'])
  })

  it('holds a stage off without touching its settings', () => {
    const d = readDevelopment({ steps: { exposure: { ev: 1 }, baseRendering: { grade: 4 } } })
    const plan = makePlan(withoutStages(d, ['expose']), 'srgb')
    expect(plan.render).toContainEqual({
      id: 'baseRendering',
      settings: startDevelopment().steps.baseRendering,
      strength: 1,
    })
    expect(plan.render.some((p) => p.id === 'exposure')).toBe(false)
    expect(d.steps.exposure.ev).toBe(1)
  })

  it('gathers what squares up, let in by strength, and nothing where it is held or switched off', () => {
    const steps = { perspective: { tilt: -8, size: 1.2 }, fallOff: { ev: 1 }, level: { angle: 2 } }
    expect(makePlan(readDevelopment({}), 'srgb').square).toBeUndefined()
    const soft = makePlan(
      readDevelopment({ steps, strength: { perspective: 0.5, fallOff: 1.5 } }),
      'srgb',
    ).square!
    expect([soft.perspective.tilt, soft.perspective.size, soft.fallOff.ev]).toEqual([-4, 1.2, 1.5])
    expect(makePlan(withoutStages(readDevelopment({ steps }), ['square-up']), 'srgb').square).toBeUndefined()
    const off = makePlan(readDevelopment({ steps, off: ['level', 'fallOff'] }), 'srgb').square!
    expect([off.level.angle, off.fallOff.ev, off.perspective.tilt]).toEqual([0, 0, -8])
    // the same frame is kept for the picture as it was at the start
    const before = startAfterKept(
      readDevelopment({ steps: { ...steps, exposure: { ev: 2 } }, off: ['level'] }),
    )
    expect(before.steps.exposure.ev).toBe(0)
    expect(makePlan(before, 'srgb').square).toEqual(
      makePlan(readDevelopment({ steps, off: ['level'] }), 'srgb').square,
    )
  })

  it('keeps the demosaiced picture while only later steps change', () => {
    const a = makePlan(readDevelopment({}), 'srgb')
    const b = makePlan(
      readDevelopment({ steps: { exposure: { ev: 2 }, cameraColour: { source: 'kelvin' } } }),
      'srgb',
    )
    const c = makePlan(readDevelopment({ steps: { defects: { threshold: 9 } } }), 'srgb')
    expect(b.developKey).toBe(a.developKey)
    expect(c.developKey).not.toBe(a.developKey)
  })
})

describe('grades', () => {
  it('harden by the same factor each, with mid grey where it is', async () => {
    const { renderGrey, renderingCurve, renderStops, slopeAtGrey, MID_GREY } = await import('../steps')
    const slopes = [0, 1, 2, 3, 4, 5].map((g) => slopeAtGrey(renderingCurve(g)))
    expect(slopes[0]).toBeCloseTo(1, 6)
    for (let g = 1; g < 6; g++) expect(slopes[g] / slopes[g - 1]).toBeCloseTo(1.195, 4)
    for (const g of [0, 1.3, 2, 5]) {
      const curve = renderingCurve(g)
      expect(renderGrey(curve, MID_GREY)).toBeCloseTo(MID_GREY, 9)
      expect(renderStops(curve, 0)).toBeCloseTo(0, 9)
      // the slope is what it says it is
      expect((renderStops(curve, 0.01) - renderStops(curve, -0.01)) / 0.02).toBeCloseTo(slopeAtGrey(curve), 3)
      for (let s = -10; s < 3; s += 0.25)
        expect(renderStops(curve, s + 0.25)).toBeGreaterThan(renderStops(curve, s))
    }
  })
})

describe('parts of one step', () => {
  const noise = { steps: { noise: { mode: 'automatic' } } }
  const ids = (d: unknown) => {
    const plan = makePlan(readDevelopment(d), 'srgb')
    return [...plan.develop, ...plan.render].map((p) => p.id)
  }
  const parts = ['noise', 'colourNoise']

  it('work and rest together: off, held, and taken out', () => {
    expect(ids(noise)).toEqual(expect.arrayContaining(parts))
    const without = [
      ids({ ...noise, off: ['noise'] }),
      ids(withoutStages(readDevelopment(noise), ['refine'])),
      ids(withoutSteps(readDevelopment(noise), ['noise'])),
      ids({ ...noise, strength: { noise: 0 } }),
    ]
    for (const left of without) expect(left.filter((id) => parts.includes(id))).toEqual([])
  })

  it('have one strength', () => {
    const plan = makePlan(readDevelopment({ ...noise, strength: { noise: 0.6 } }), 'srgb')
    const found = [...plan.develop, ...plan.render].filter((p) => parts.includes(p.id))
    expect(found.map((p) => p.strength)).toEqual([0.6, 0.6])
  })
})

describe('a development without some of its steps', () => {
  it('has them as at the start, at full strength and switched on, the others as they are', () => {
    const d = readDevelopment({
      steps: { exposure: { ev: 1 }, sharpen: { strength: 0.7 } },
      strength: { exposure: 0.5, sharpen: 0.4 },
      off: ['exposure', 'sharpen'],
    })
    const without = withoutSteps(d, ['sharpen'])
    expect(without.steps.sharpen).toEqual(startDevelopment().steps.sharpen)
    expect(without.steps.exposure).toEqual({ ev: 1 })
    expect(without.strength).toEqual({ exposure: 0.5 })
    expect(without.off).toEqual(['exposure'])
    expect(d.strength).toEqual({ exposure: 0.5, sharpen: 0.4 })
  })
})
