import type { LensFaults, Square } from '../geometry'
import type { Apart } from '../steps'
import type { OpenPicture } from './picture'
import { turned, turnsBack, uprightSize } from '../geometry/upright'

/** Entries of a table of fringes: what lies between is straight to a hundredth of a pixel. */
const ENTRIES = 65
/** How far beyond the corners it goes, half diagonals. */
const BEYOND = 1.05

/**
 * Whether a picture's fringes can be taken out of its mosaic: where it has one, of square pixels, and a lens that
 * differs by radius alone.
 */
export function fringesOnMosaic({ context, orientation }: OpenPicture, lens?: LensFaults): boolean {
  const size = uprightSize(context.sensorSize, orientation)
  const [first, ...others] = lens?.tangential ?? []
  return (
    context.layout === 'mosaic' &&
    size.width === context.width &&
    size.height === context.height &&
    others.every((t) => t[0] === first[0] && t[1] === first[1])
  )
}

/** The fringes that a frame's settings take out, as the sensor lay; undefined where they take out none. */
export function apartOf(square: Square, { context, orientation, picture }: OpenPicture): Apart | undefined {
  const { width, height } = uprightSize(context.sensorSize, orientation)
  const half = Math.sqrt(width * width + height * height) / 2
  const [cx, cy] = square.lens?.centre ?? [0, 0]
  const spacing = (BEYOND + Math.sqrt(cx * cx + cy * cy)) / (ENTRIES - 1)
  const table = (channel: 0 | 2) => {
    const times = square.apart(channel)
    return Array.from({ length: ENTRIES }, (_, i) => times(Math.max(i, 0.01) * spacing) - 1)
  }
  const [red, blue] = [table(0), table(2)]
  if (![...red, ...blue].some((v) => v !== 0)) return undefined
  const upright = { width, height }
  const axis = turned(
    (width - 1) / 2 + cx * half,
    (height - 1) / 2 + cy * half,
    upright,
    turnsBack(orientation),
  )
  return { axis: [axis[0] + picture.x, axis[1] + picture.y], spacing: spacing * half, red, blue }
}
