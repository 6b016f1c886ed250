import { fieldsOf, stepById, STEP_IDS, type StepId } from '@dunkelkammer/core'
import { cameraFile, demoFrames, mosaicOf, plainLight, renderCrop, veldrom } from '@dunkelkammer/demo'

/** Settings with which steps change the picture of `contractFrame`; a step that is not named has its numbers moved. */
const CHOSEN: Readonly<Partial<Record<StepId, object>>> = {
  defects: { mend: true },
  greenBalance: { even: true },
  highlights: { rebuild: 0 },
  noise: { mode: 'automatic' },
  demosaic: { falseColour: 1 },
  patches: { patches: [{ id: 'one', kind: 'clone', x: 0.5, y: 0.3, radius: 0.1, source: [-0.3, 0.1] }] },
  lens: { choice: 'hand', bend: 0.06 },
  fringes: { source: 'own', redEdge: 0.0015, blueEdge: -0.0015 },
  fallOff: { ev: 1 },
  level: { angle: 4 },
  perspective: { tilt: 12 },
  crop: { rect: { centre: [0.5, 0.35], width: 0.6, height: 0.4 } },
  enlarge: { factor: 2 },
  sharpen: { amount: 1 },
  unsharp: { strength: 2 },
  afterNoise: { amount: 2 },
  cameraColour: { source: 'kelvin', kelvin: 3400 },
  edgeColour: { amount: 1, hue: 250, width: 180 },
  haze: { strength: 0.8 },
  exposure: { ev: 0.7 },
  areas: {
    areas: [
      {
        ...{ id: 'a', strength: 1.5 },
        mask: {
          shapes: [
            { id: 'o', kind: 'oval', x: 0.5, y: 0.3, across: 0.4, down: 0.3 },
            { id: 't', kind: 'tones', way: 'common', range: { from: -3, to: 2 } },
          ],
        },
        steps: { exposure: { ev: -1 }, relief: { medium: 0.5 }, sharpen: { amount: 1 } },
      },
    ],
  },
  evenLighting: { amount: 0.7 },
  recovery: { amount: 1 },
  tones: { shadows: { lift: 1.5 } },
  points: { black: -4, white: 2.2 },
  relief: { medium: 0.8 },
  baseRendering: { grade: 3.5 },
  primaries: { red: { turn: 20 }, blue: { spread: 0.3 } },
  curve: {
    luminance: [
      [0, 0],
      [0.4, 0.55],
      [1, 1],
    ],
  },
  rangeCurve: { all: { low: 0.5, high: -0.4 } },
  hueNodes: { nodes: [{ hue: 90, width: 120, shift: 40, colour: 0.5 }] },
  colourfulness: { all: 0.6 },
  tints: { stops: [{ at: 0.4, hue: 250, strength: 0.6 }] },
  monochrome: { on: true, filter: 'red' },
  toning: { toner: 'sepia', strength: 0.8 },
  look: { kind: 'own', id: 'early-light' },
  edgeBurn: { ev: -2 },
  grain: { strength: 0.6 },
}

/** A step with each of its numbers halfway from its start to its end. */
function moved(id: StepId): object {
  const settings = structuredClone(stepById.get(id)!.neutral) as Record<string, unknown>
  for (const { kind, path, start, max } of fieldsOf(id))
    if (kind === 'number' && path.length === 1) settings[path[0]] = (Number(start) + max!) / 2
  return settings
}

/** Settings with which each step changes the picture of `contractFrame`. */
export const SAMPLES = Object.fromEntries(STEP_IDS.map((id) => [id, CHOSEN[id] ?? moved(id)])) as Readonly<
  Record<StepId, object>
>

/** A small photograph with noise, hot pixels, uneven greens and clipped light: there is something to do for each step. */
export function contractFrame(): Uint8Array {
  const { scene, takenNeutral } = demoFrames[2]
  const crop = { x: 0, y: 0, width: 312, height: 208 }
  const wider = { x: -2, y: -2, width: crop.width + 4, height: crop.height + 4 }
  const light = plainLight(renderCrop(scene, crop.width, crop.height, wider), crop.width, crop.height)
  const camera = { ...veldrom, hot: 1e-3, greenLeak: 0.03 }
  const mosaic = mosaicOf(camera, { iso: 400, exposure: 1.8, seed: 5 }, light, crop)
  return cameraFile(camera, crop, mosaic, takenNeutral)
}
