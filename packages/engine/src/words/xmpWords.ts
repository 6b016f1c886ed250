import { BASIC_NAMESPACE } from '@dunkelkammer/core'
import type { Element } from '@xmldom/xmldom'
import { childrenOf, Properties, valuesOf } from './rdf'

export const DC = 'http://purl.org/dc/elements/1.1/'
/** Keywords in a tree, as the metadata working group has them. */
export const TREE = 'http://www.metadataworkinggroup.com/schemas/keywords/'

/** Between the levels of a keyword that has some. */
export const LEVEL = '|'

/** What a frame is said to be: what the photographer writes, not the camera. */
export interface Words {
  title: string
  caption: string
  creator: string
  copyright: string
  keywords: string[]
}

/** What XMP says. */
export interface XmpWords {
  words: Partial<Words>
  /** Stars; -1 for what was dropped. */
  rating?: number
  /** Colour or name that another program marked it with. */
  label?: string
  /** When what it says was last changed, ISO 8601. */
  changed?: string
}

const MOST = { line: 300, caption: 4000, keywords: 200 }
const inOneLine = (v: string) =>
  v
    .replace(/\s+/g, ' ')
    .replace(/\p{Cc}/gu, '')
    .trim()
    .slice(0, MOST.line)

/** Words held to what a frame keeps; empty ones left out. */
export function heldWords(words: Partial<Words>): Partial<Words> {
  const { title = '', caption = '', creator = '', copyright = '', keywords = [] } = words
  const held: Words = {
    title: inOneLine(title),
    caption: caption.trim().slice(0, MOST.caption),
    creator: inOneLine(creator),
    copyright: inOneLine(copyright),
    keywords: [...new Set(keywords.map(inOneLine).filter(Boolean))].slice(0, MOST.keywords),
  }
  return Object.fromEntries(Object.entries(held).filter(([, v]) => v.length > 0))
}

/** Paths of a tree of keywords, from its roots to its leaves. */
function paths(list: Element, above: readonly string[] = []): string[] {
  const items = childrenOf(list).flatMap((bag) => childrenOf(bag).filter((e) => e.localName === 'li'))
  return items.flatMap((item) => {
    // an item may hold its properties itself, or in a description
    const inner = childrenOf(item).find((e) => e.localName === 'Description') ?? item
    const of = (name: string) =>
      childrenOf(inner).find((e) => e.namespaceURI === TREE && e.localName === name)
    const keyword = of('Keyword')?.textContent?.trim() ?? inner.getAttributeNS(TREE, 'Keyword')
    if (!keyword) return []
    const path = [...above, keyword]
    const children = of('Children')
    const below = children ? paths(children, path) : []
    return below.length ? below : path.length > 1 ? [path.join(LEVEL)] : []
  })
}

/** Keywords with levels, in the ways that are met: with bars or strokes between the levels, or as a tree. */
function levelled(p: Properties): string[] {
  const bars = p.named('hierarchicalSubject').flatMap(valuesOf)
  const strokes = p.named('TagsList').flatMap((e) => valuesOf(e).map((v) => v.replaceAll('/', LEVEL)))
  const trees = p.named('Keywords').flatMap((e) =>
    childrenOf(e)
      .concat(childrenOf(e).flatMap(childrenOf))
      .filter((h) => h.namespaceURI === TREE && h.localName === 'Hierarchy')
      .flatMap((h) => paths(h)),
  )
  return [...bars, ...strokes, ...trees].filter((path) => path.includes(LEVEL))
}

/** Those with levels, and the plain ones that are not the last level of one. */
function keywordsIn(p: Properties): string[] {
  const deep = levelled(p)
  const last = new Set(deep.map((path) => path.slice(path.lastIndexOf(LEVEL) + 1).trim()))
  return [...p.all(DC, 'subject').filter((k) => !last.has(k)), ...deep]
}

/** Words among properties. */
export function wordsIn(p: Properties): XmpWords {
  const rating = Number(p.one(BASIC_NAMESPACE, 'Rating') ?? NaN)
  return {
    words: heldWords({
      title: p.one(DC, 'title'),
      caption: p.one(DC, 'description'),
      creator: p.all(DC, 'creator').filter(Boolean).join(', '),
      copyright: p.one(DC, 'rights'),
      keywords: keywordsIn(p),
    }),
    ...(rating >= -1 && rating <= 5 && { rating: Math.round(rating) }),
    label: p.one(BASIC_NAMESPACE, 'Label')?.slice(0, MOST.line),
    changed: p.one(BASIC_NAMESPACE, 'MetadataDate') ?? p.one(BASIC_NAMESPACE, 'ModifyDate'),
  }
}
