import { fitInto } from '@dunkelkammer/engine/browser'

export type Zoom = 'fit' | 1 | 2
export const ZOOMS: readonly Zoom[] = ['fit', 1, 2]
export const zoomLabel = (zoom: Zoom): string => (zoom === 'fit' ? 'Fit' : `${zoom * 100} %`)

/** What of the picture is on the screen, and where. */
export interface Geometry {
  /** Size in which the picture is computed. */
  width: number
  height: number
  /** Part that is computed, in pixels of that size. */
  region: { x: number; y: number; width: number; height: number }
  /** CSS pixels a computed pixel. */
  pixel: number
  /** Place of the whole picture in the pane, CSS pixels. */
  left: number
  top: number
}

export interface Pane {
  width: number
  height: number
  /** Device pixels a CSS pixel. */
  density: number
}

const MARGIN = 20

/**
 * @param centre place of the picture in the middle of the pane, as fractions
 */
export function layOutView(
  picture: { width: number; height: number },
  pane: Pane,
  zoom: Zoom,
  centre: { x: number; y: number },
): Geometry {
  const { density } = pane
  if (zoom === 'fit') {
    const room = [pane.width - 2 * MARGIN, pane.height - 2 * MARGIN].map((v) => Math.max(v, 32) * density)
    const size = fitInto(picture.width, picture.height, room[0], room[1])
    return {
      ...size,
      region: { x: 0, y: 0, ...size },
      pixel: 1 / density,
      left: Math.round((pane.width - size.width / density) / 2),
      top: Math.round((pane.height - size.height / density) / 2),
    }
  }
  const pixel = zoom / density
  const along = (full: number, room: number, at: number) => {
    const seen = Math.min(full, Math.ceil(room / pixel))
    const start = Math.round(Math.min(Math.max(at * full - seen / 2, 0), full - seen))
    const spare = Math.max(room - full * pixel, 0)
    return { seen, start, edge: spare / 2 - start * pixel }
  }
  const h = along(picture.width, pane.width, centre.x)
  const v = along(picture.height, pane.height, centre.y)
  return {
    width: picture.width,
    height: picture.height,
    region: { x: h.start, y: v.start, width: h.seen, height: v.seen },
    pixel,
    left: h.edge,
    top: v.edge,
  }
}

/** Where the whole picture lies in the pane, as CSS wants it. */
export const placeOfWhole = (g: Geometry) => ({
  left: g.left,
  top: g.top,
  width: g.width * g.pixel,
  height: g.height * g.pixel,
})

/** Place in the pane to fractions of the picture. */
export const toPicture = (g: Geometry, x: number, y: number) => ({
  x: (x - g.left) / (g.width * g.pixel),
  y: (y - g.top) / (g.height * g.pixel),
})

export const sameGeometry = (a: Geometry, b: Geometry): boolean => JSON.stringify(a) === JSON.stringify(b)

/** Where a view of some geometry lies under another one: it moves with the picture until the new one is there. */
export function placedView(
  { view, geometry: g }: { view: { rgba: Uint8ClampedArray<ArrayBuffer> }; geometry: Geometry },
  now: Geometry,
) {
  const pixel = (now.width * now.pixel) / g.width
  return {
    rgba: view.rgba,
    width: g.region.width,
    height: g.region.height,
    pixel,
    left: now.left + g.region.x * pixel,
    top: now.top + g.region.y * pixel,
  }
}
