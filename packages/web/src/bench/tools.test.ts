import { HueNodeSchema, startDevelopment, TonesSchema, type HueNode } from '@dunkelkammer/core'
import { describe, expect, it } from 'vitest'
import { movePoint, pointAt, withoutPoint } from './expose/curvePoints'
import { heldGrip } from './tone/gripLimits'
import { draggedNode, nodeAt } from './balance/hues'
import { onAxis } from './expose/tones'
import { written } from './readings/kinds'

describe('points of a curve', () => {
  const points = [
    [0, 0],
    [0.5, 0.4],
    [1, 1],
  ] as const

  it('stay between their neighbours and within the square', () => {
    expect(movePoint(points, 1, 2, -1)[1]).toEqual([0.99, 0])
    expect(movePoint(points, 0, 0.7, 0.2)[0]).toEqual([0.49, 0.2])
    expect(movePoint(points, 1, 0.3, 0.6)).toEqual([
      [0, 0],
      [0.3, 0.6],
      [1, 1],
    ])
  })

  it('are taken where one is near and set where none is', () => {
    expect(pointAt(points, 0.51, 0.9)).toEqual({ points: points.map((p) => [...p]), index: 1 })
    const made = pointAt(points, 0.8, 0.7)!
    expect(made.index).toBe(2)
    expect(made.points[2]).toEqual([0.8, 0.7])
    const full = Array.from({ length: 16 }, (_, i) => [i / 15, i / 15] as const)
    expect(pointAt(full, 0.1, 0.1, 0.01)).toBeUndefined()
  })

  it('go, but not the ends', () => {
    expect(withoutPoint(points, 1)).toHaveLength(2)
    expect(withoutPoint(points, 0)).toHaveLength(3)
    expect(withoutPoint(points, 2)).toHaveLength(3)
  })
})

describe('grips', () => {
  it('keep their order', () => {
    const tones = TonesSchema.parse({})
    expect(heldGrip(tones, 'shadows', 5)).toBe(tones.midTones.at - 0.5)
    expect(heldGrip(tones, 'shadows', -9)).toBe(tones.deepShadows.at + 0.5)
    expect(heldGrip(tones, 'deepShadows', -99)).toBe(-8)
  })
})

describe('hue nodes by hand', () => {
  const nodes = startDevelopment().steps.hueNodes.nodes

  it('the nearest is taken, across the end of the circle too', () => {
    expect(nodeAt(nodes, 355).index).toBe(5)
    expect(nodeAt(nodes, 5).index).toBe(0)
    expect(nodeAt(nodes, 95).index).toBe(1)
  })

  it('where none reaches a new one is set, as long as there is room', () => {
    const narrow: HueNode[] = [HueNodeSchema.parse({ hue: 100, width: 10 })]
    const made = nodeAt(narrow, 200)
    expect(made.index).toBe(1)
    expect(made.nodes[1].hue).toBe(200)
    const many = Array.from({ length: 12 }, (_, i) => HueNodeSchema.parse({ hue: i, width: 8 }))
    expect(nodeAt(many, 100)).toMatchObject({ index: 11, nodes: many })
  })

  it('a drag changes one part, within its range', () => {
    expect(draggedNode(nodes[0], 'colour', 150).colour).toBe(0.5)
    expect(draggedNode(nodes[0], 'light', -900).light).toBe(-1)
    expect(draggedNode(nodes[0], 'shift', 30)).toMatchObject({ shift: 6, colour: 0, light: 0 })
  })
})

describe('places and readings', () => {
  it('lie on the axis of the curve by the root of their light', () => {
    expect(onAxis([0.25, 0.25, 0.25], 'luminance')).toBeCloseTo(0.5, 9)
    expect(onAxis([0.04, 0.25, 0.81], 'red')).toBeCloseTo(0.2, 9)
    expect(onAxis([0.04, 0.25, 4], 'blue')).toBe(1)
    expect(onAxis([-1, -1, -1], 'luminance')).toBe(0)
  })

  it('are written as is usual for each kind', () => {
    const reading = {
      sensor: [0.5, 0.25, 0.1],
      linear: [1.5, -0.002, 0],
      output: [1, 0.5, 0],
      lab: [50, -3.25, 10],
    } as const
    expect(written(reading, 'output')).toEqual(['255', '128', '0'])
    expect(written(reading, 'sensor')).toEqual(['50.0', '25.0', '10.0'])
    expect(written(reading, 'linear')).toEqual(['1.500', '\u22120.002', '0.000'])
    expect(written(reading, 'lab')).toEqual(['50.0', '\u22123.3', '10.0'])
  })
})
