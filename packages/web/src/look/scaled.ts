import type { Geometry, Pane } from '../bench/picture/geometry'

/** What several panes have in common: a place of the scene in the middle, and how large the scene is. */
export interface Tied {
  /** Fractions of width and height. */
  centre: { x: number; y: number }
  /** CSS pixels that the longer side of the whole picture takes; nothing where it fits the pane. */
  longEdge?: number
}

/** The whole picture, fitted. */
export const WHOLE: Tied = { centre: { x: 0.5, y: 0.5 } }

/**
 * Lays out a picture whose longer side takes a number of CSS pixels, whatever its own pixels are. Where it is larger
 * than its own pixels they are enlarged; where it is smaller it is computed smaller.
 */
export function layOutScaled(
  picture: { width: number; height: number },
  pane: Pane,
  { centre, longEdge = 0 }: Tied,
): Geometry {
  const { density } = pane
  const share = (longEdge * density) / Math.max(picture.width, picture.height)
  const reduced = share < 0.999
  const width = reduced ? Math.max(16, Math.round(picture.width * share)) : picture.width
  const height = reduced ? Math.max(16, Math.round(picture.height * share)) : picture.height
  const pixel = reduced ? 1 / density : share / density
  const along = (full: number, room: number, at: number) => {
    const seen = Math.min(full, Math.ceil(room / pixel) + 1)
    const start = Math.round(Math.min(Math.max(at * full - room / pixel / 2, 0), full - seen))
    const spare = Math.max(room - full * pixel, 0)
    // the place asked for lies in the middle of the pane to a fraction of a pixel, as far as there is picture
    const edge = spare ? spare / 2 : Math.min(Math.max(room / 2 - at * full * pixel, room - full * pixel), 0)
    return { seen, start, edge }
  }
  const h = along(width, pane.width, centre.x)
  const v = along(height, pane.height, centre.y)
  return {
    width,
    height,
    region: { x: h.start, y: v.start, width: h.seen, height: v.seen },
    pixel,
    left: h.edge,
    top: v.edge,
  }
}

/** The centre after a drag by CSS pixels. */
export const draggedBy = (
  tied: Tied,
  picture: { width: number; height: number },
  dx: number,
  dy: number,
): Tied['centre'] => {
  const scale = (tied.longEdge ?? 1) / Math.max(picture.width, picture.height)
  const held = (v: number) => Math.min(Math.max(v, 0), 1)
  return {
    x: held(tied.centre.x - dx / (picture.width * scale)),
    y: held(tied.centre.y - dy / (picture.height * scale)),
  }
}
