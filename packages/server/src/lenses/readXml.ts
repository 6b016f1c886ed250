import { LensProfileSchema, type LensProfile, type Projection } from '@dunkelkammer/core'
import { SaxesParser } from 'saxes'

/** A camera of a lens database: what tells its lens mount and the size of its sensor. */
export interface CameraEntry {
  maker: string
  model: string
  mount: string
  crop: number
}

export interface LensDatabase {
  lenses: LensProfile[]
  cameras: CameraEntry[]
  /** Measurements by formulas that are not known here. */
  leftOut: number
}

/** The file cannot be read; the message says in which line. */
export class LensXmlError extends Error {}

const PROJECTIONS: Readonly<Record<string, Projection>> = {
  rectilinear: 'rectilinear',
  fisheye: 'equidistant',
  equisolid: 'equisolid',
  stereographic: 'stereographic',
  orthographic: 'orthographic',
  fisheye_thoby: 'thoby',
  panoramic: 'panoramic',
  equirectangular: 'equirectangular',
}

interface Part {
  name: string
  text: string
  /** The first of several, which are translations. */
  words: Record<string, string>
  mounts: string[]
  lens: Record<string, unknown>
  distortion: unknown[]
  fringes: unknown[]
  fallOff: unknown[]
}

const begin = (name: string): Part => ({
  ...{ name, text: '', words: {}, mounts: [], lens: {}, distortion: [], fringes: [], fallOff: [] },
})

/** Longer side over shorter, from "4:3" or "1.333". */
function aspectOf(text: string | undefined): number {
  if (!text) return 1.5
  const [a, b = '1'] = text.split(':')
  const ratio = Number(a) / Number(b)
  return ratio >= 1 ? ratio : 1 / ratio
}

/**
 * Reads the open XML format of lens databases: cameras with their mounts and sensors, lenses with measured
 * distortion (poly3, poly5, ptlens), lateral fringes (linear, poly3) and fall-off (pa), fisheyes included.
 * @throws LensXmlError with the line where the text is no such file
 */
export function readLensXml(text: string): LensDatabase {
  const found: LensDatabase = { lenses: [], cameras: [], leftOut: 0 }
  const parser = new SaxesParser({ position: true, xmlns: false })
  const open: string[] = []
  let part: Part | undefined
  let said = ''
  const fail = (why: string): never => {
    throw new LensXmlError(`Line ${parser.line}: ${why}`)
  }
  parser.on('error', (error) => fail(error.message.replace(/^\d+:\d+:\s*/, '').replace(/\.$/, '') + '.'))
  const attributes =
    (tag: { name: string; attributes: Readonly<Record<string, string>> }) =>
    (name: string, standard?: number) => {
      const value = tag.attributes[name]
      if (value === undefined) return standard ?? fail(`<${tag.name}> has no ${name}.`)
      const number = Number(value)
      return Number.isFinite(number) && value.trim() !== ''
        ? number
        : fail(`${name}="${value}" is not a number.`)
    }
  parser.on('opentag', (tag) => {
    if (open.length === 0 && tag.name !== 'lensdatabase') fail('this is not a lens database.')
    if (open.length === 1) part = begin(tag.name)
    open.push(tag.name)
    said = ''
    if (!part) return
    const n = attributes(tag)
    const { model } = tag.attributes
    if (open[2] !== 'calibration' || open.length !== 4) return
    if (tag.name === 'distortion') {
      const focal = n('focal')
      if (model === 'poly3') part.distortion.push({ focal, kind: model, terms: [n('k1', 0)] })
      else if (model === 'poly5')
        part.distortion.push({ focal, kind: model, terms: [n('k1', 0), n('k2', 0)] })
      else if (model === 'ptlens')
        part.distortion.push({ focal, kind: model, terms: [n('a', 0), n('b', 0), n('c', 0)] })
      else if (model !== 'none') found.leftOut++
    } else if (tag.name === 'tca') {
      const focal = n('focal')
      if (model === 'linear') part.fringes.push({ focal, kind: model, red: [n('kr', 1)], blue: [n('kb', 1)] })
      else if (model === 'poly3') {
        const terms = (c: 'r' | 'b') => [n(`v${c}`, 1), n(`c${c}`, 0), n(`b${c}`, 0)]
        part.fringes.push({ focal, kind: model, red: terms('r'), blue: terms('b') })
      } else if (model !== 'none') found.leftOut++
    } else if (tag.name === 'vignetting') {
      if (model === 'pa')
        part.fallOff.push({
          focal: n('focal'),
          aperture: n('aperture'),
          distance: n('distance', 1000),
          terms: [n('k1', 0), n('k2', 0), n('k3', 0)],
        })
      else if (model !== 'none') found.leftOut++
    }
  })
  parser.on('text', (t) => (said += t))
  parser.on('closetag', (tag) => {
    if (part && open.length === 3) {
      const words = said.trim()
      if (tag.name === 'mount') part.mounts.push(words)
      else part.words[tag.name] ??= words
    }
    said = ''
    open.pop()
    if (part && open.length === 1) {
      close(part)
      part = undefined
    }
  })
  const close = ({ name, words, mounts, ...measured }: Part) => {
    const crop = words.cropfactor === undefined ? 1 : Number(words.cropfactor)
    if (name === 'camera' && words.model) {
      if (!(crop > 0)) fail('a camera without the size of its sensor.')
      found.cameras.push({ maker: words.maker ?? '', model: words.model, mount: mounts[0] ?? '', crop })
    }
    if (name !== 'lens') return
    const { distortion, fringes, fallOff } = measured
    if (distortion.length + fringes.length + fallOff.length === 0) return
    const projection = PROJECTIONS[words.type ?? 'rectilinear']
    if (!projection) return void found.leftOut++
    const profile = LensProfileSchema.safeParse({
      maker: words.maker ?? '',
      model: words.model ?? '',
      ...{ mounts, crop, aspect: aspectOf(words['aspect-ratio']), projection, distortion, fringes, fallOff },
    })
    if (!profile.success) {
      const { path, message } = profile.error.issues[0]
      fail(`the lens that ends here cannot be used: ${path.join(' ')}: ${message}.`)
    }
    found.lenses.push(profile.data!)
  }
  try {
    parser.write(text).close()
  } catch (error) {
    if (error instanceof LensXmlError) throw error
    throw new LensXmlError(`Line ${parser.line}: ${(error as Error).message}`)
  }
  return found
}
