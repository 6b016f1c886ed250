import { toneOf, toOklab, working, type Development } from '@dunkelkammer/core'
import type { Layers } from '../layers'
import { lightOfScene } from './read'

/** What is at a place of the scene as the camera saw it, whatever has been set since. */
export interface SceneColour {
  /** EV from the scene's middle grey. */
  tone: number
  /** Oklab's a and b over its lightness. */
  colour: [number, number]
}

/**
 * Tone and colour by which ranges of a mask go.
 * @param x, y fractions of the frame's width and height
 */
export async function scene(
  layers: Layers,
  development: Development,
  x: number,
  y: number,
): Promise<SceneColour> {
  const [L, a, b] = toOklab(working, await lightOfScene(layers, development, x, y))
  const per = 1 / Math.max(L, 1e-4)
  return { tone: toneOf(L), colour: [a * per, b * per] }
}
