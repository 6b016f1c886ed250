import {
  MOST_SHAPES,
  ShapeSchema,
  type Development,
  type Findable,
  type Shape,
  type ShapeKind,
} from '@dunkelkammer/core'
import { arrayMove } from '@dnd-kit/sortable'
import { atom } from 'jotai'
import type { z } from 'zod'
import type { Bench } from '../state/types'
import { maskAreaAtom, areaForShape, areasAtom, newId, withArea } from './areas'

export type { Shape, ShapeKind }
export type ShapeOf<K extends ShapeKind> = Extract<Shape, { kind: K }>
export type Way = Shape['way']

/** The shape whose controls and handles are shown. */
export const shapeIdAtom = atom<string | undefined>(undefined)
export const shapesAtom = atom((get) => get(maskAreaAtom)?.mask.shapes ?? [])
export const shapeAtom = atom((get) => get(shapesAtom).find((s) => s.id === get(shapeIdAtom)))

/** What the next shape does to those before it. */
export const wayAtom = atom<Way>('add')

export const SHAPE_NAMES: Record<ShapeKind, string> = {
  stroke: 'Stroke',
  ramp: 'Ramp',
  oval: 'Oval',
  outline: 'Outline',
  tones: 'Tone range',
  colours: 'Colour range',
  found: 'Found',
  distance: 'Distance',
  alike: 'Like this',
  regions: 'Regions',
}

/** What can be found in a picture by itself. */
export const THINGS: Record<Findable, string> = {
  sky: 'Sky',
  ground: 'Ground',
  water: 'Water',
  subject: 'Subject',
}
export const shapeName = (shape: Shape): string =>
  shape.kind === 'found' ? THINGS[shape.what] : SHAPE_NAMES[shape.kind]

type WithoutId<S> = S extends unknown ? Omit<S, 'id'> : never

export const newShape = (written: WithoutId<z.input<typeof ShapeSchema>>): Shape =>
  ShapeSchema.parse({ id: newId(), ...written })

const withShapes = (d: Development, area: string, change: (all: readonly Shape[]) => Shape[]): Development =>
  withArea(d, area, (a) => ({ ...a, mask: { ...a.mask, shapes: change(a.mask.shapes) } }))

/**
 * Adds a shape to the area in the hand, or to a new one, and takes it into the hand.
 * @param name of a new area
 * @returns whether there was room for it
 */
export function addShape(bench: Bench, shape: Shape, name = ''): boolean {
  const label = `${shapeName(shape)} added`
  const gesture = shape.id
  const area = areaForShape(bench, label, gesture, name)
  if (!area) return false
  if ((bench.get(areasAtom).find((a) => a.id === area)?.mask.shapes.length ?? 0) >= MOST_SHAPES) {
    bench.say(`A mask can have no more than ${MOST_SHAPES} shapes.`)
    return false
  }
  bench.adjust((d) => withShapes(d, area, (all) => [...all, shape]), label, gesture)
  bench.set(shapeIdAtom, shape.id)
  return true
}

/** Changes one shape of the area in the hand. */
export function changeShape(
  bench: Bench,
  id: string,
  part: Partial<Shape> | ((shape: Shape) => Partial<Shape>),
  label: string,
  gesture?: string,
): void {
  const area = bench.get(maskAreaAtom)
  if (!area) return
  const change = (s: Shape) => ({ ...s, ...(typeof part === 'function' ? part(s) : part) }) as Shape
  bench.adjust(
    (d) => withShapes(d, area.id, (all) => all.map((s) => (s.id === id ? change(s) : s))),
    label,
    gesture,
  )
}

export function removeShape(bench: Bench, id: string): void {
  const area = bench.get(maskAreaAtom)
  if (!area) return
  const { shapes } = area.mask
  const at = shapes.findIndex((s) => s.id === id)
  if (at < 0) return
  bench.set(shapeIdAtom, (shapes[at + 1] ?? shapes[at - 1])?.id)
  bench.adjust((d) => withShapes(d, area.id, (all) => all.filter((s) => s.id !== id)), 'Shape deleted')
}

/** Puts a shape to another place in the order. @param to its index there */
export function placeShape(bench: Bench, id: string, to: number): void {
  const area = bench.get(maskAreaAtom)
  const from = area?.mask.shapes.findIndex((s) => s.id === id) ?? -1
  if (!area || from < 0 || to === from || to < 0 || to >= area.mask.shapes.length) return
  bench.adjust((d) => withShapes(d, area.id, (all) => arrayMove([...all], from, to)), 'Shapes reordered')
}
