import { fitInto, type View } from '@dunkelkammer/engine/browser'

/** All of the picture, as much as fills the pane, or device pixels per pixel of the picture. */
export type Zoom = 'fit' | 'fill' | number
export const ZOOM = { least: 0.125, most: 8 } as const
/** Where keys stop. */
const ZOOM_STEPS = [0.125, 0.25, 0.5, 1, 2, 4, 8] as const

/** The next step up or down from a zoom that may lie between. */
export function zoomStep(from: number, up: boolean): number {
  const next = up ? ZOOM_STEPS.find((z) => z > from * 1.001) : ZOOM_STEPS.findLast((z) => z < from * 0.999)
  return next ?? (up ? ZOOM.most : ZOOM.least)
}

/** A zoom as the address has it, in per cent, and back. */
export const zoomText = (zoom: Zoom): string | undefined =>
  zoom === 'fit' ? undefined : zoom === 'fill' ? zoom : String(Math.round(zoom * 1e4) / 100)
export function readZoom(text: string | null): Zoom {
  if (text === 'fill') return text
  const zoom = Number(text ?? '') / 100
  return zoom > 0 ? Math.min(Math.max(zoom, ZOOM.least), ZOOM.most) : 'fit'
}

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
  const room = { width: pane.width * density, height: pane.height * density }
  const scale = zoom === 'fill' ? Math.max(room.width / picture.width, room.height / picture.height) : zoom
  // no more is computed than is shown: smaller than it is, the picture is computed small
  const made = Math.min(scale, 1)
  const full = { width: Math.round(picture.width * made), height: Math.round(picture.height * made) }
  const pixel = scale / made / density
  const along = (full: number, room: number, at: number) => {
    const seen = Math.min(full, Math.ceil(room / pixel))
    const start = Math.round(Math.min(Math.max(at * full - seen / 2, 0), full - seen))
    const spare = Math.max(room - full * pixel, 0)
    return { seen, start, edge: spare / 2 - start * pixel }
  }
  const h = along(full.width, pane.width, centre.x)
  const v = along(full.height, pane.height, centre.y)
  return {
    ...full,
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
  { view, geometry: g }: { view: Pick<View, 'rgba'> & { display?: View['display'] }; geometry: Geometry },
  now: Geometry,
) {
  const pixel = (now.width * now.pixel) / g.width
  return {
    rgba: view.rgba,
    display: view.display,
    width: g.region.width,
    height: g.region.height,
    pixel,
    left: now.left + g.region.x * pixel,
    top: now.top + g.region.y * pixel,
  }
}

/** Device pixels per pixel of the picture, however the zoom is called. @param width of the picture */
export const zoomOf = (g: Geometry, { width }: { width: number }, { density }: Pane): number =>
  (g.width * g.pixel * density) / width

/**
 * What has to come into the middle of the pane so that a place stays under the pointer at another zoom.
 * @param x, y of the pointer in the pane, CSS pixels
 */
export function centreAround(
  g: Geometry,
  pane: Pane,
  factor: number,
  x: number,
  y: number,
): { x: number; y: number } {
  const at = toPicture(g, x, y)
  const size = { width: g.width * g.pixel * factor, height: g.height * g.pixel * factor }
  return { x: at.x - (x - pane.width / 2) / size.width, y: at.y - (y - pane.height / 2) / size.height }
}
