import { SHIPPED_LENSES } from '@dunkelkammer/core'
import type { LensAnswer, LensWish } from './lenses'

/** What is known of a lens without its measurements. */
export interface LensRow {
  id: string
  maker: string
  model: string
  mounts: readonly string[]
  crop: number
  focalFrom: number
  focalTo: number
  /** Words of maker and name, and of the name alone, in one line; made when first asked for. */
  words?: readonly string[]
  name?: string
}

export interface CameraRow {
  maker: string
  model: string
  mount: string
  crop: number
}

export interface Match {
  id: string
  /** Crop factor of the camera, by its name. */
  crop?: number
}

/** Words of a name: small letters, numbers on their own, without the signs between them. */
export function wordsOf(name: string): string[] {
  return name
    .toLowerCase()
    .replace(/([a-z])\.(?=\d)/g, '$1 ')
    .replace(/\b1:\s*(?:f\s*\/)?\s*(?=\d)/g, ' f')
    .replace(/f\s*\/\s*/g, ' f')
    .replace(/(\d)\s*mm\b/g, '$1 ')
    .replace(/(\d)\s*-\s*(\d)/g, '$1 $2')
    .replace(/[^a-z0-9.]+/g, ' ')
    .replace(/\.0\b/g, '')
    .split(' ')
    .filter((w) => w && w !== '.' && w !== 'mm')
}

/** The camera that a frame names; its maker's name may stand in the model's as well. */
export function cameraOf(
  cameras: readonly CameraRow[],
  { make = '', model = '' }: LensWish,
): CameraRow | undefined {
  if (!model) return undefined
  const first = wordsOf(make)[0]
  const bare = (text: string) =>
    wordsOf(text)
      .filter((w) => w !== first)
      .join(' ')
  const wanted = bare(model)
  return cameras.find((c) => (!first || wordsOf(c.maker)[0] === first) && bare(c.model) === wanted)
}

/** The lens that a frame was taken with: by its name, or by a camera whose lens cannot be taken off. */
export function matchLens(
  lenses: readonly LensRow[],
  cameras: readonly CameraRow[],
  wish: LensWish,
): Match | undefined {
  const camera = cameraOf(cameras, wish)
  const crop = wish.crop ?? camera?.crop
  const reaches = ({ focalFrom, focalTo }: LensRow) =>
    wish.focal === undefined || (wish.focal >= focalFrom * 0.9 && wish.focal <= focalTo * 1.1)
  let best: { row: LensRow; score: number } | undefined
  const take = (row: LensRow, score: number) => {
    // measured on a sensor of the same size or a little larger: all of the picture is covered, and finely
    const size =
      crop === undefined ? 0 : Math.abs(Math.log2(crop / row.crop)) + (row.crop > crop * 1.04 ? 1 : 0)
    const all = score - 0.2 * size
    if (!best || all > best.score) best = { row, score: all }
  }
  if (wish.lens) {
    const wanted = new Set([...wordsOf(wish.lens), ...wordsOf(wish.make ?? '').slice(0, 1)])
    const exact = wordsOf(wish.lens).join(' ')
    const lengths = wordsOf(wish.lens).filter((w) => /^f?\d/.test(w) && w.length < 8)
    for (const row of lenses) {
      if (!reaches(row)) continue
      const name = (row.name ??= wordsOf(row.model).join(' '))
      if (name === exact) {
        take(row, 3)
        continue
      }
      const words = (row.words ??= [...new Set([...name.split(' '), ...wordsOf(row.maker).slice(0, 1)])])
      if (lengths.length === 0 || !lengths.every((n) => words.includes(n))) continue
      const shared = words.filter((w) => wanted.has(w)).length
      // glass of another mount may have the same numbers
      const fits = !camera || row.mounts.includes(camera.mount)
      if (shared / Math.min(words.length, wanted.size) >= 0.75)
        take(row, shared / Math.max(words.length, wanted.size) + (fits ? 1 : 0.4))
    }
  } else if (camera) {
    const own = lenses.filter((l) => l.mounts.includes(camera.mount))
    // with adapters in front there may be several: the plain one has the shortest name
    own.sort((a, b) => a.model.length - b.model.length)
    if (own[0]) take(own[0], 1)
  }
  return best && { id: best.row.id, crop: camera?.crop }
}

/** A lens among those that come with the application, for where there is no library. */
export function shippedLens(wish: LensWish): LensAnswer | undefined {
  if (wish.profile) return undefined
  const rows = SHIPPED_LENSES.map((p, i): LensRow => {
    const focals = p.distortion.map((d) => d.focal)
    const { maker, model, mounts, crop } = p
    return {
      id: `${i}`,
      maker,
      model,
      mounts,
      crop,
      focalFrom: Math.min(...focals),
      focalTo: Math.max(...focals),
    }
  })
  const match = matchLens(rows, [], wish)
  return match && { id: match.id, profile: SHIPPED_LENSES[Number(match.id)], crop: match.crop }
}
