import { BASIC_NAMESPACE } from '@dunkelkammer/core'
import { DC, LEVEL, TREE, type Words } from './xmpWords'

/** Text as an element may hold it. */
export const inElement = (text: string): string =>
  text
    .replace(/&/g, '&amp;')
    .replace(/</g, '&lt;')
    .replace(/>/g, '&gt;')
    // control characters are no XML at all
    .replace(/[^\P{Cc}\n\t]/gu, '')

/** What a property holds: one text, a text in the default language, a list, or a tree of keywords. */
export type Value =
  | { form: 'plain'; text: string }
  | { form: 'alternative'; text: string }
  | { form: 'Bag' | 'Seq'; items: readonly string[] }
  | { form: 'tree'; paths: readonly string[] }

export interface Property {
  space: string
  name: string
  value: Value
}

export const isEmpty = (value: Value): boolean =>
  'text' in value ? value.text === '' : ('items' in value ? value.items : value.paths).length === 0

/** Keywords for readers that know no levels: of those with some the last. */
export function flatKeywords(keywords: readonly string[]): string[] {
  const last = (k: string) => k.slice(k.lastIndexOf(LEVEL) + 1).trim()
  return [...new Set(keywords.map(last).filter(Boolean))]
}

/** Keywords with levels. */
export const levelledKeywords = (keywords: readonly string[]): string[] =>
  keywords.filter((k) => k.includes(LEVEL))

/** Words as properties of XMP (ISO 16684-1), in those that IPTC core names for them. */
export const wordProperties = (words: Words): Property[] => [
  { space: DC, name: 'title', value: { form: 'alternative', text: words.title } },
  { space: DC, name: 'description', value: { form: 'alternative', text: words.caption } },
  { space: DC, name: 'creator', value: { form: 'Seq', items: words.creator ? [words.creator] : [] } },
  { space: DC, name: 'rights', value: { form: 'alternative', text: words.copyright } },
  { space: DC, name: 'subject', value: { form: 'Bag', items: flatKeywords(words.keywords) } },
  { space: TREE, name: 'Keywords', value: { form: 'tree', paths: levelledKeywords(words.keywords) } },
]

interface Branch {
  keyword: string
  children: Branch[]
}

function treeOf(paths: readonly string[]): Branch[] {
  const roots: Branch[] = []
  for (const path of paths) {
    let level = roots
    for (const keyword of path.split(LEVEL).map((k) => k.trim())) {
      let branch = level.find((b) => b.keyword === keyword)
      if (!branch) level.push((branch = { keyword, children: [] }))
      level = branch.children
    }
  }
  return roots
}

const branches = (list: readonly Branch[], rdf: string, tree: string): string =>
  `<${rdf}Bag>${list
    .map(
      ({ keyword, children }) =>
        `<${rdf}li ${rdf}parseType="Resource"><${tree}Keyword>${inElement(keyword)}</${tree}Keyword>${
          children.length ? `<${tree}Children>${branches(children, rdf, tree)}</${tree}Children>` : ''
        }</${rdf}li>`,
    )
    .join('')}</${rdf}Bag>`

/**
 * A property as an element.
 * @param rdf, own prefixes with their colons
 * @param added attributes to declare what is not declared where it will stand
 * @param others items of other languages as they are written, for an alternative
 */
export function written(
  { name, value }: Property,
  rdf: string,
  own: string,
  added = '',
  others = '',
): string {
  const item = (text: string, attributes = '') => `<${rdf}li${attributes}>${inElement(text)}</${rdf}li>`
  const element = (inside: string, attributes = '') =>
    `<${own}${name}${added}${attributes}>${inside}</${own}${name}>`
  switch (value.form) {
    case 'plain':
      return element(inElement(value.text))
    case 'alternative': {
      const text = value.text ? item(value.text, ' xml:lang="x-default"') : ''
      return element(`<${rdf}Alt>${text}${others}</${rdf}Alt>`)
    }
    case 'tree':
      return element(
        `<${own}Hierarchy>${branches(treeOf(value.paths), rdf, own)}</${own}Hierarchy>`,
        ` ${rdf}parseType="Resource"`,
      )
    default:
      return element(`<${rdf}${value.form}>${value.items.map((i) => item(i)).join('')}</${rdf}${value.form}>`)
  }
}

const PREFIXES: Readonly<Record<string, string>> = { [DC]: 'dc:', [BASIC_NAMESPACE]: 'xmp:' }

/** Words, and a label, as elements for {@link xmpPacket}. */
export const wordElements = (words: Words, label?: string): string[] =>
  [
    ...wordProperties(words),
    { space: BASIC_NAMESPACE, name: 'Label', value: { form: 'plain', text: label ?? '' } } as const,
  ]
    .filter((p) => !isEmpty(p.value))
    .map((p) =>
      PREFIXES[p.space]
        ? written(p, 'rdf:', PREFIXES[p.space])
        : written(p, 'rdf:', 'kw:', ` xmlns:kw="${p.space}"`),
    )
