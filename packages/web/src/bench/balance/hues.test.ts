import { HueNodeSchema, startDevelopment, type HueNode } from '@dunkelkammer/core'
import { describe, expect, it } from 'vitest'
import { draggedNode, nodeAt } from './hues'

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
