import {
  cameraColour,
  reachOf,
  stepById,
  type Development,
  type Plan,
  type PlannedStep,
  type Reading,
  type SpaceId,
  type StepId,
} from '@dunkelkammer/core'
import type { Framed } from '../framing'
import type { Layers } from '../layers'
import { stepsBefore } from '../layers/keys'
import type { Releasable } from '../resources'
import { around } from './around'

/**
 * What is at a place of the picture: at the sensor, in the scene, on the display.
 * @param x, y fractions of the frame's width and height
 * @param radius half the side of the square that is averaged, sensor pixels
 * @param space of the page that shows it: the output's numbers are of it
 */
export async function read(
  layers: Layers,
  development: Development,
  x: number,
  y: number,
  radius: number,
  space: SpaceId = 'srgb',
): Promise<Reading> {
  const { plan, framed } = await layers.planned(development)
  const { factor } = framed.square.settings.enlarge
  const averaged = Math.round(radius * factor)
  return readAt(layers, plan, framed, { x, y, radius, averaged, space }, (steps) => {
    const cut = steps.findIndex((s) => stepById.get(s.id)!.yields === 'display')
    return [steps.slice(0, cut), steps.slice(cut)]
  })
}

/**
 * Working-space light at a place before a step.
 * @param x, y fractions of the frame's width and height
 */
export async function lightBefore(
  layers: Layers,
  development: Development,
  until: StepId,
  x: number,
  y: number,
): Promise<Reading['linear']> {
  const { plan, framed } = await layers.planned(development)
  const before = { ...plan, render: stepsBefore(plan, until) }
  const place = { x, y, radius: 2, averaged: 2 }
  return (await readAt(layers, before, framed, place, (steps) => [steps, []])).linear
}

/**
 * Working-space light at a place of the scene as the camera saw it: from it masks tell tones and colours.
 * @param x, y fractions of the frame's width and height
 */
export async function lightOfScene(
  layers: Layers,
  development: Development,
  x: number,
  y: number,
): Promise<Reading['linear']> {
  const { plan, framed } = await layers.planned(development)
  const step = { id: 'cameraColour', settings: cameraColour.neutral, strength: 1 } as const
  const bare = { ...plan, refine: [], render: [step] }
  const place = { x, y, radius: 2, averaged: 2 }
  return (await readAt(layers, bare, framed, place, (steps) => [steps, []])).linear
}

/** @param cut the later steps as far as the scene's light, and those to the display */
async function readAt(
  layers: Layers,
  planned: Plan,
  framed: Framed,
  { space = 'srgb', ...place }: { x: number; y: number; radius: number; averaged: number; space?: SpaceId },
  cut: (steps: PlannedStep[]) => [scene: PlannedStep[], display: PlannedStep[]],
): Promise<Reading> {
  const { square, open } = framed
  const { x, y, radius, averaged } = place
  const reach = reachOf(planned.render, 1, open.context)
  const part = around(square, x * square.width, y * square.height, radius + reach)
  const held: Releasable[] = []
  try {
    const plan = await layers.maskMaps.plan(planned, framed, held)
    const kept = await layers.mended.take(plan, { quality: 'draft', part })
    held.push(kept)
    const [scene, display] = cut(await layers.surveys.steps(plan, framed, held))
    return await layers.ground.pool.run({
      ...{ kind: 'read', picture: open, space, display, scene: [...plan.refine, ...scene] },
      ...{ source: kept.raster, warp: layers.framed.fullWarp(framed, held), radius: averaged },
      x: x * square.finished.width,
      y: y * square.finished.height,
    })
  } finally {
    held.forEach((k) => k.release())
  }
}
