import type { DrawnScene, Seen } from '../render/march'
import { fbm2, noise2 } from '../render/noise'
import { add, clamp01, mix, scale, smoothstep, type Vec3 } from '../render/vec'

/**
 * "The kingfisher below the lock": a bird on a mooring post, much too far away for the lens in the bag. The far bank
 * is out of focus; the bird is some fifty pixels high.
 */
const BIRD = { x: 0.012, y: -0.004, size: 0.0042 }
const POST = { x: 0.0125, width: 0.0019, top: BIRD.y - 0.0036 }
const SKYLIGHT: Vec3 = [0.5, 0.58, 0.68]

/** Whether a place lies in an ellipse: below 1 inside. */
const ellipse = (x: number, y: number, cx: number, cy: number, rx: number, ry: number, turn = 0): number => {
  const [s, c] = [Math.sin(turn), Math.cos(turn)]
  const dx = x - cx
  const dy = y - cy
  return Math.hypot((dx * c + dy * s) / rx, (dy * c - dx * s) / ry)
}

/** The bird in lengths of its body, its bill to the left; undefined beside it. */
function bird(x: number, y: number): Vec3 | undefined {
  const barbs = 0.75 + 0.5 * noise2(x * 26, y * 60, 9)
  const blue: Vec3 = [0.02, 0.16, 0.3]
  const bright: Vec3 = [0.03, 0.42, 0.55]
  const orange: Vec3 = [0.55, 0.17, 0.03]
  const white: Vec3 = [0.72, 0.7, 0.64]
  if (ellipse(x, y, -0.37, 0.62, 0.035, 0.04) < 1) return [0.01, 0.01, 0.012]
  if (ellipse(x, y, -0.355, 0.645, 0.011, 0.012) < 1) return [0.9, 0.92, 0.95]
  // bill: a long wedge
  const along = (-0.5 - x) / 0.62
  if (along > 0 && along < 1 && Math.abs(y - 0.6 - 0.02 * along) < 0.052 * (1 - along))
    return [0.025, 0.022, 0.02]
  if (ellipse(x, y, -0.14, 0.53, 0.09, 0.05, -0.3) < 1) return white
  if (ellipse(x, y, -0.42, 0.5, 0.1, 0.06) < 1) return white
  if (ellipse(x, y, -0.3, 0.55, 0.12, 0.055, -0.2) < 1) return scale(orange, barbs)
  if (ellipse(x, y, -0.28, 0.64, 0.27, 0.21) < 1) {
    const barred = Math.sin(x * 90 + y * 40) > 0.4
    return scale(barred ? bright : blue, barbs)
  }
  if (ellipse(x, y, 0.12, 0.12, 0.2, 0.5, -0.28) < 1) {
    const spots = noise2(x * 40, y * 40, 4) > 0.78
    return scale(spots ? bright : blue, barbs)
  }
  if (ellipse(x, y, 0.22, 0.2, 0.05, 0.45, -0.3) < 1) return scale(bright, 1.3 * barbs)
  if (ellipse(x, y, -0.03, 0.14, 0.32, 0.52, -0.15) < 1)
    return scale(orange, barbs * (0.7 + 0.6 * clamp01(0.5 - x)))
  if (ellipse(x, y, 0.26, -0.52, 0.07, 0.3, -0.25) < 1) return scale(blue, 0.8 * barbs)
  if (Math.abs(y + 0.42) < 0.05 && (Math.abs(x + 0.06) < 0.025 || Math.abs(x - 0.06) < 0.025))
    return [0.5, 0.08, 0.03]
  return undefined
}

function look(d: Vec3): Seen {
  const x = d[0] / d[2]
  const y = d[1] / d[2]
  const light = (albedo: Vec3, shade: number): Vec3 => [
    albedo[0] * (0.35 * SKYLIGHT[0] + 1.5 * shade),
    albedo[1] * (0.35 * SKYLIGHT[1] + 1.35 * shade),
    albedo[2] * (0.35 * SKYLIGHT[2] + 1.1 * shade),
  ]
  const bx = (x - BIRD.x) / BIRD.size
  const by = (y - BIRD.y) / BIRD.size
  const body = bird(bx, by)
  if (body) return { object: 'bird', light: light(body, 0.45 + 0.5 * smoothstep(-0.4, 0.8, by)) }
  const px = (x - POST.x) / POST.width
  const worn = 0.08 * noise2(x * 9000, 3, 2)
  if (Math.abs(px) < 1 && y < POST.top - worn * POST.width) {
    const grain = fbm2(px * 7, (y - POST.top) * 380, 5, 12)
    const wood = mix([0.1, 0.085, 0.07], [0.33, 0.3, 0.26], grain)
    const moss = smoothstep(0.45, 0.75, fbm2(px * 3, y * 900, 4, 19)) * smoothstep(-0.016, -0.03, y)
    const round = Math.sqrt(Math.max(1 - px * px, 0))
    const ring = Math.abs(y - POST.top + 0.012) < 0.0005 ? 0.3 : 1
    const shade = 0.15 + 0.7 * round * (px < 0.2 ? 1 : 0.6)
    return { object: 'post', light: light(scale(mix(wood, [0.09, 0.14, 0.03], moss), ring), shade) }
  }
  // water below, a far bank out of focus above and in it
  const shore = 0.012
  const mirrored = y < shore ? 2 * shore - y : y
  const wave =
    y < shore ? (fbm2(x * 60, (shore - y) * 900, 3, 31) - 0.5) * 0.012 * smoothstep(0, 0.04, shore - y) : 0
  const up = mirrored + wave
  const soft = fbm2(x * 26 + 3, up * 30, 3, 41)
  let bank = mix([0.03, 0.05, 0.02], [0.16, 0.2, 0.07], soft)
  bank = mix(bank, [0.3, 0.26, 0.12], 0.5 * smoothstep(0.5, 0.8, fbm2(x * 14, up * 22, 3, 47)))
  const sky = scale(SKYLIGHT, 1.1)
  const behind = mix(light(bank, 0.5), sky, smoothstep(0.05, 0.09, up + 0.02 * soft))
  if (y >= shore) return { object: 'bank', light: behind }
  const glint =
    smoothstep(0.72, 0.9, fbm2(x * 240, (shore - y) * 2400, 3, 53)) * smoothstep(0.01, 0.05, shore - y)
  return { object: 'water', light: add(scale(behind, 0.72), scale([0.5, 0.52, 0.5], 0.12 * glint)) }
}

export const kingfisher: DrawnScene = {
  id: 'kingfisher',
  title: 'The kingfisher below the lock',
  eye: [0, 0, 0],
  pitch: 0,
  fieldOfView: 0.22,
  radiance: (_, d) => look(d).light,
  object: (_, d) => look(d).object,
}
