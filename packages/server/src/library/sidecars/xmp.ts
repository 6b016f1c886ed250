import { MARKS, NO_TEXT, TextSchema, type Mark, type Text } from '@dunkelkammer/contract'
import { MADE_BY, xmpPacket } from '@dunkelkammer/core'
import { XMLParser } from 'fast-xml-parser'
import { HttpProblem } from '../../problem'
import { inElement, takenApart } from './apart'

/** What a sidecar says of a frame. */
export interface Sidecar {
  text: Partial<Text>
  rating?: number
  mark?: Mark
  /** Developments as a property of ours holds them, see `records.ts`; not checked yet. */
  development?: string
}

/** Most characters of a sidecar, and of all in it but developments. */
export const MAX_XMP = 16 << 20
const MOST_PARSED = 1 << 20

const escaped = (text: string) => inElement(text).replace(/"/g, '&quot;')

const alternative = (text: string) =>
  `<rdf:Alt><rdf:li xml:lang="x-default">${escaped(text)}</rdf:li></rdf:Alt>`
const list = (kind: 'Bag' | 'Seq', items: readonly string[]) =>
  `<rdf:${kind}>${items.map((i) => `<rdf:li>${escaped(i)}</rdf:li>`).join('')}</rdf:${kind}>`

/** Stars as other programs have them: -1 for what was dropped. */
export const standardRating = (rating: number, mark: Mark): string => String(mark === 'drop' ? -1 : rating)

/**
 * Words of a frame as XMP (ISO 16684-1), in the properties that IPTC core names for them; its stars where the
 * standard has them, and with its mark in properties of our own.
 * @param development see `records.ts`
 * @param madeBy how a delivered file was made, see MadeBy
 */
export function writeXmp(
  text: Text,
  rating: number,
  mark: Mark,
  development?: string,
  madeBy?: string,
): string {
  const parts = [
    text.title && `<dc:title>${alternative(text.title)}</dc:title>`,
    text.caption && `<dc:description>${alternative(text.caption)}</dc:description>`,
    text.creator && `<dc:creator>${list('Seq', [text.creator])}</dc:creator>`,
    text.copyright && `<dc:rights>${alternative(text.copyright)}</dc:rights>`,
    text.keywords.length && `<dc:subject>${list('Bag', text.keywords)}</dc:subject>`,
    `<xmp:Rating>${standardRating(rating, mark)}</xmp:Rating>`,
    `<dk:rating>${rating}</dk:rating>`,
    `<dk:ratingWritten>${standardRating(rating, mark)}</dk:ratingWritten>`,
    mark !== 'none' && `<dk:mark>${mark}</dk:mark>`,
    madeBy !== undefined && `${MADE_BY.open}${madeBy}${MADE_BY.close}`,
    development !== undefined && `<dk:development>${inElement(development)}</dk:development>`,
  ]
  return xmpPacket(parts.filter((part): part is string => Boolean(part)))
}

type Node = string | { [name: string]: Node | Node[] | undefined }

const parser = new XMLParser({
  ignoreAttributes: false,
  attributeNamePrefix: '@',
  parseTagValue: false,
  parseAttributeValue: false,
  removeNSPrefix: true,
  isArray: (name) => name === 'li' || name === 'Description',
})

const textOf = (node: Node | Node[] | undefined): string => {
  if (node === undefined) return ''
  if (typeof node === 'string') return node
  if (Array.isArray(node)) return textOf(node[0])
  return typeof node['#text'] === 'string' ? node['#text'] : ''
}

/** Items of a property that is a list, or its only value. */
function items(node: Node | Node[] | undefined): string[] {
  if (node === undefined) return []
  if (typeof node === 'string') return [node]
  if (Array.isArray(node)) return node.flatMap(items)
  const inner = node.Bag ?? node.Seq ?? node.Alt
  if (inner === undefined) return [textOf(node)]
  const li = (inner as { li?: Node | Node[] }).li
  const all = Array.isArray(li) ? li : li === undefined ? [] : [li]
  // the default language first
  const lang = (n: Node) => (typeof n === 'object' ? n['@lang'] : undefined)
  return [...all]
    .sort((a, b) => Number(lang(b) === 'x-default') - Number(lang(a) === 'x-default'))
    .map(textOf)
}

export const notXmp = () => new HttpProblem(422, 'damaged', 'This sidecar is not XMP.')

/** Whether a text may be parsed at all: entities of its own could unfold to any size. */
export const isXmpText = (xml: string): boolean => xml.length <= MOST_PARSED && !/<!DOCTYPE/i.test(xml)

/**
 * Reads a sidecar; what it does not say is left out.
 * @throws HttpProblem where it is not XMP
 */
export function readXmp(xml: string): Sidecar {
  const apart = takenApart(xml)
  const rest = apart?.rest ?? xml
  if (!isXmpText(rest)) throw notXmp()
  let tree: Node
  try {
    tree = parser.parse(rest) as Node
  } catch {
    throw notXmp()
  }
  const meta = (tree as { xmpmeta?: { RDF?: unknown } }).xmpmeta
  const rdf = (meta?.RDF ?? (tree as { RDF?: unknown }).RDF) as { Description?: Node[] } | undefined
  if (!rdf || typeof rdf !== 'object') throw notXmp()
  const all: Record<string, Node | Node[] | undefined> = {}
  for (const d of rdf.Description ?? []) if (typeof d === 'object') Object.assign(all, d)
  const property = (name: string) => items(all[name] ?? all[`@${name}`]).map((v) => v.trim())
  const one = (name: string, most = 300) => property(name)[0]?.slice(0, most) || undefined
  const inOneLine = (v: string | undefined) => v?.replace(/\s+/g, ' ').replace(/\p{Cc}/gu, '')
  const subject = property('subject')
    .map((k) => inOneLine(k)!.slice(0, 300))
    .filter(Boolean)
  const given: Partial<Text> = {
    title: inOneLine(one('title')),
    caption: one('description', 4000),
    creator: inOneLine(property('creator').filter(Boolean).join(', ').slice(0, 300)) || undefined,
    copyright: inOneLine(one('rights')),
    keywords: subject.length ? [...new Set(subject)].slice(0, 200) : undefined,
  }
  const text = Object.fromEntries(Object.entries(given).filter(([, v]) => v !== undefined)) as Partial<Text>
  TextSchema.parse({ ...NO_TEXT, ...text })
  const { stars, mark } = starsOf(one)
  const development = apart?.development ?? (textOf(all.development ?? all['@development']) || undefined)
  return {
    ...{ text, mark, rating: stars >= 0 && stars <= 5 ? Math.round(stars) : undefined },
    ...(development !== undefined && { development }),
  }
}

/**
 * Stars and mark: ours, but where another program has changed the standard's rating since, by that; in it -1 says that a
 * picture was dropped.
 */
function starsOf(one: (name: string) => string | undefined): { stars: number; mark: Mark | undefined } {
  const [own, standard, written] = ['rating', 'Rating', 'ratingWritten'].map((name) => one(name))
  const said = one('mark') as Mark | undefined
  const mark = said && MARKS.includes(said) ? said : undefined
  const changed =
    own === undefined || (written !== undefined && standard !== undefined && standard !== written)
  if (!changed || standard === undefined) return { stars: Number(own ?? NaN), mark }
  if (Number(standard) === -1) return { stars: Number(own ?? NaN), mark: 'drop' }
  return { stars: Number(standard), mark: mark === 'drop' ? 'none' : mark }
}
