import type { DrawnScene } from '../render/march'
import { fbm2 } from '../render/noise'
import { add, scale, type Vec3 } from '../render/vec'
import { kilnFacade } from './kilnFacade'

/**
 * "The drying house from the yard": the brick front with the chimney and the sky above, and cables strung before it.
 * Without them it is the truth behind the picture.
 */

/** A cable hangs in a plane at a distance: ends, how far it sags, half its width, metres. */
interface Cable {
  z: number
  from: readonly [number, number]
  to: readonly [number, number]
  sag: number
  half: number
}

export const CABLES: readonly Cable[] = [
  { z: 8.2, from: [-9, 9.2], to: [9, 10.6], sag: 0.9, half: 0.009 },
  { z: 8.2, from: [-9, 10.1], to: [9, 11.1], sag: 0.8, half: 0.013 },
  { z: 8, from: [-9, 17.4], to: [9, 15.2], sag: 0.7, half: 0.02 },
  { z: 8.4, from: [-9, 13.2], to: [9, 19.5], sag: 0.4, half: 0.011 },
]

/** Height of a cable at a place across, metres; about a parabola. */
export function cableAt({ from, to, sag }: Cable, x: number): number {
  const t = (x - from[0]) / (to[0] - from[0])
  return from[1] + (to[1] - from[1]) * t - 4 * sag * t * (1 - t)
}

const DARK: Vec3 = [0.02, 0.02, 0.021]
const SHINE: Vec3 = [0.09, 0.09, 0.095]

/** The light of a cable in a ray's way; undefined where there is none. */
function cableIn(o: Vec3, d: Vec3): Vec3 | undefined {
  if (d[2] > 0)
    for (const cable of CABLES) {
      const t = (cable.z - o[2]) / d[2]
      const [x, y] = [o[0] + d[0] * t, o[1] + d[1] * t]
      const slope = (cableAt(cable, x + 0.05) - cableAt(cable, x - 0.05)) / 0.1
      const across = (y - cableAt(cable, x)) / Math.sqrt(1 + slope * slope) / cable.half
      if (Math.abs(across) > 1) continue
      return add(DARK, scale(SHINE, Math.max(across, 0) * (0.6 + 0.4 * fbm2(x * 9, y * 9, 2, 3))))
    }
  return undefined
}

const seen = { eye: [0.4, 1.6, -1.5], pitch: 0.66, yaw: 0.02, fieldOfView: 1.12, upright: false } as const

export const cableYard: DrawnScene = {
  ...seen,
  id: 'cable-yard',
  title: 'The drying house from the yard',
  radiance: (o, d) => cableIn(o, d) ?? kilnFacade.radiance(o, d),
  object: (o, d) => (cableIn(o, d) ? 'cable' : kilnFacade.object!(o, d)),
}
/** The same without the cables. */
export const cableYardBare: DrawnScene = {
  ...cableYard,
  id: 'cable-yard-bare',
  radiance: kilnFacade.radiance,
  object: kilnFacade.object,
}
