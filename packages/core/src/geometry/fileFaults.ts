import { atan, type Point } from '../math'
import type { Opcode } from '../raw/dng/opcodes'
import type { SensorFrame } from '../raw'
import { turned } from './upright'
import type { LensFaults, ShadingMap } from './square'

const UNIT = { width: 2, height: 2 }

/** A direction turned as the picture is. */
function turnedWay([x, y]: Point, orientation: number): Point {
  const zero = turned(0, 0, UNIT, orientation)
  const at = turned(x, y, UNIT, orientation)
  return [at[0] - zero[0], at[1] - zero[1]]
}

type GainMap = Extract<Opcode, { kind: 'gain-map' }>
type Warp = Extract<Opcode, { kind: 'warp-rectilinear' | 'warp-fisheye' }>

/** Sensor radius over ideal radius, both over the distance to the farthest corner (DNG 1.7, opcodes 1 and 2). */
function warped(kind: Warp['kind'], terms: readonly number[], r: number): number {
  const [a = 1, b = 0, c = 0, d = 0] = terms
  if (kind === 'warp-rectilinear') {
    const r2 = r * r
    return a + r2 * (b + r2 * (c + r2 * d))
  }
  if (r < 1e-7) return a
  const t = atan(r)
  const t2 = t * t
  return (t * (a + t2 * (b + t2 * (c + t2 * d)))) / r
}

/**
 * What a file itself says of its lens (DNG 1.7, chapter 7): warps, radial fall-off and gain maps, brought to the
 * picture standing upright. Undefined where it says nothing.
 */
export function fileFaults(frame: SensorFrame): LensFaults | undefined {
  const { opcodes, active, picture, metadata } = frame
  const all = [...opcodes.linear, ...opcodes.demosaiced]
  const warp = all.find((o): o is Warp => o.kind === 'warp-rectilinear' || o.kind === 'warp-fisheye')
  const vignette = all.find((o) => o.kind === 'fix-vignette-radial')
  const shading = shadingOf(frame, true)
  const due = shadingOf(frame, false)
  if (!warp && !vignette && !shading && !due) return undefined
  const half = Math.sqrt(picture.width ** 2 + picture.height ** 2) / 2
  const place = ([cx, cy]: Point) => {
    const x = active.x + cx * active.width
    const y = active.y + cy * active.height
    const far = Math.max(
      ...[active.x, active.x + active.width].flatMap((ax) =>
        [active.y, active.y + active.height].map((ay) => Math.sqrt((ax - x) ** 2 + (ay - y) ** 2)),
      ),
    )
    const off: Point = [
      (x - picture.x - picture.width / 2) / half,
      (y - picture.y - picture.height / 2) / half,
    ]
    return { far, off: turnedWay(off, metadata.orientation) }
  }
  const lens = place(warp?.centre ?? vignette?.centre ?? [0.5, 0.5])
  const ratio = half / lens.far
  const planes = [0, 1, 2].map((p) => warp?.planes[Math.min(p, warp.planes.length - 1)])
  const light = vignette && { terms: vignette.terms, ratio: half / place(vignette.centre).far }
  return {
    factors: planes.map((terms) =>
      warp && terms ? (r: number) => warped(warp.kind, terms, r * ratio) : () => 1,
    ),
    fallOff:
      light &&
      ((r: number) => {
        const q = (r * light.ratio) ** 2
        return 1 / Math.max(light.terms.reduceRight((sum, k) => (sum + k) * q, 0) + 1, 0.05)
      }),
    centre: lens.off,
    tangential:
      warp?.kind === 'warp-rectilinear'
        ? planes.map((terms) => {
            const [x, y] = turnedWay(
              [(terms?.[5] ?? 0) * ratio, (terms?.[4] ?? 0) * ratio],
              metadata.orientation,
            )
            return [y, x] as const
          })
        : undefined,
    shading,
    due,
  }
}

/**
 * The gain maps of a file as one, by channel; those of another size than the first are left out.
 * @param optional those that may be left out, else those that may not
 */
function shadingOf(frame: SensorFrame, optional: boolean): ShadingMap | undefined {
  const { opcodes, active, picture, pattern, layout, metadata } = frame
  const maps = [...opcodes.linear, ...opcodes.demosaiced].filter(
    (o) => o.kind === 'gain-map' && o.optional === optional,
  ) as GainMap[]
  const first = maps[0]
  if (!first || first.rows < 1 || first.columns < 1) return undefined
  const { rows, columns } = first
  const sums = [0, 1, 2].map(() => ({ of: new Float32Array(rows * columns), count: 0 }))
  for (const map of maps) {
    if (map.rows !== rows || map.columns !== columns) continue
    const mosaic = layout === 'mosaic' && opcodes.linear.includes(map)
    const channels = !mosaic
      ? [0, 1, 2].filter((c) => c >= map.area.plane && c < map.area.plane + map.area.planes)
      : map.area.rowPitch === 1 && map.area.columnPitch === 1
        ? [0, 1, 2]
        : [
            pattern.colours[
              ((map.area.y + active.y) % pattern.size) * pattern.size +
                ((map.area.x + active.x) % pattern.size)
            ],
          ]
    for (const c of channels) {
      const plane = Math.min(mosaic ? 0 : c, map.mapPlanes - 1)
      for (let i = 0; i < rows * columns; i++) sums[c].of[i] += map.gains[i * map.mapPlanes + plane]
      sums[c].count++
    }
  }
  const { orientation } = metadata
  const size = { width: columns, height: rows }
  const lying = orientation >= 5
  const across = lying ? rows : columns
  const gains = sums.map(({ of, count }) => {
    const out = new Float32Array(rows * columns).fill(1)
    if (count)
      for (let y = 0; y < rows; y++)
        for (let x = 0; x < columns; x++) {
          const [tx, ty] = turned(x, y, size, orientation)
          out[ty * across + tx] = of[y * columns + x] / count
        }
    return out
  })
  const fraction = (x: number, y: number) =>
    turned(
      (active.x + x * active.width - picture.x) / picture.width,
      (active.y + y * active.height - picture.y) / picture.height,
      UNIT,
      orientation,
    )
  const [v0, h0] = first.origin
  const a = fraction(h0, v0)
  const b = fraction(h0 + first.spacing[1] * (columns - 1), v0 + first.spacing[0] * (rows - 1))
  return {
    across,
    down: lying ? columns : rows,
    left: Math.min(a[0], b[0]),
    right: Math.max(a[0], b[0]),
    top: Math.min(a[1], b[1]),
    bottom: Math.max(a[1], b[1]),
    gains,
  }
}
