import { HueNodeSchema, MOST_NODES, toOklab, working, type HueNode, type Triple } from '@dunkelkammer/core'
import { atom } from 'jotai'

/** What a drag on the picture changes. */
export const HUE_PARTS_BY_HAND = ['shift', 'colour', 'light'] as const
export type HuePart = (typeof HUE_PARTS_BY_HAND)[number]

/** How much of each hue the picture holds before the hue nodes. */
export const huesAtom = atom<Float32Array | undefined>(undefined)
export const chosenNodeAtom = atom(0)
export const huePartAtom = atom<HuePart>('colour')
/** Whether what the chosen node selects is shown. */
export const showingNodeAtom = atom(false)

/** Pixels of the screen for the whole of a control. */
const REACH = 300

/** Hue in degrees, and how far from grey, of a light in the working space. */
export function hueOf(light: Triple): { hue: number; chroma: number } {
  const [, a, b] = toOklab(working, light)
  return { hue: ((Math.atan2(b, a) * 180) / Math.PI + 360) % 360, chroma: Math.hypot(a, b) }
}

const apart = (a: number, b: number) => Math.abs(((a - b + 540) % 360) - 180)

/** The node that acts most on a hue, or a new one there where none does. */
export function nodeAt(nodes: readonly HueNode[], hue: number): { nodes: HueNode[]; index: number } {
  let index = -1
  nodes.forEach((n, i) => {
    const share = apart(n.hue, hue) / n.width
    if (share < 0.75 && (index < 0 || share < apart(nodes[index].hue, hue) / nodes[index].width)) index = i
  })
  if (index >= 0) return { nodes: [...nodes], index }
  if (nodes.length < MOST_NODES)
    return {
      nodes: [...nodes, HueNodeSchema.parse({ hue: Math.round(hue), width: 40 })],
      index: nodes.length,
    }
  nodes.forEach((n, i) => {
    if (index < 0 || apart(n.hue, hue) < apart(nodes[index].hue, hue)) index = i
  })
  return { nodes: [...nodes], index }
}

/** A part of a node changed by a drag, held to its range. @param up pixels of the screen */
export function draggedNode(node: HueNode, part: HuePart, up: number): HueNode {
  const hold = (v: number, most: number) => Math.min(Math.max(v, -most), most)
  if (part === 'shift') return { ...node, shift: Math.round(hold(node.shift + (up / REACH) * 60, 60)) }
  return { ...node, [part]: Math.round(hold(node[part] + up / REACH, 1) * 100) / 100 }
}
