import { isXmpText } from '@dunkelkammer/engine/words'
import { SaxesParser, type SaxesTagNS } from 'saxes'
import { notXmp } from './xmp'

export const RDF = 'http://www.w3.org/1999/02/22-rdf-syntax-ns#'
const XML = 'http://www.w3.org/XML/1998/namespace'

/** Places in a text: from the first character to the one after the last. */
export interface Span {
  from: number
  to: number
}

/** An item of a list, or a text in a language. */
export interface Item extends Span {
  text: string
  lang: string
}

/** A property as it stands in a text: an element, or an attribute of a description. */
export interface Written extends Span {
  space: string
  name: string
  /** Its prefix with the colon. */
  prefix: string
  attribute: boolean
  /** The value of one without items. */
  text: string
  items: Item[]
}

/** An element that holds others. */
export interface Holder extends Span {
  /** Its name as it is written. */
  name: string
  /** Where its first tag ends, and its last one starts; the same where it is one tag. */
  opened: number
  closing: number
  /** Prefixes with their colons, by what they stand for. */
  prefixes: ReadonlyMap<string, string>
}

/** Where XMP says what: the properties of one picture by their places in the text. */
export interface XmpSource {
  rdf: Holder
  descriptions: Holder[]
  properties: Written[]
}

interface Open {
  tag: SaxesTagNS
  holder: Holder
  property?: Written
  item?: Item
}

/**
 * Finds the properties of XMP in its text (ISO 16684-1, 7.9).
 * @throws HttpProblem where it is not XMP
 */
export function xmpSource(xml: string): XmpSource {
  if (!isXmpText(xml)) throw notXmp()
  const scan = new Scan(xml)
  try {
    scan.run()
  } catch {
    throw notXmp()
  }
  if (!scan.rdf) throw notXmp()
  return { rdf: scan.rdf, descriptions: scan.descriptions, properties: scan.properties }
}

class Scan {
  rdf?: Holder
  readonly descriptions: Holder[] = []
  readonly properties: Written[] = []
  private readonly open: Open[] = []
  private readonly parser = new SaxesParser({ xmlns: true })
  /** Where the tag that is being read starts, and where its attributes end. */
  private start = 0
  private attributes: number[] = []

  /** Characters before what is parsed. */
  private shift = 0

  constructor(private readonly xml: string) {}

  private get at(): number {
    return this.shift + this.parser.position
  }

  run(): void {
    const { parser, xml } = this
    parser.on('error', (error) => {
      throw error
    })
    parser.on('opentagstart', () => {
      this.start = xml.lastIndexOf('<', this.at - 1)
      this.attributes = []
    })
    parser.on('attribute', () => this.attributes.push(this.at))
    parser.on('opentag', (tag) => this.opened(tag))
    parser.on('closetag', (tag) => this.closed(tag.isSelfClosing))
    const text = (t: string) => {
      for (const { property, item } of this.open) {
        if (property) property.text += t
        if (item) item.text += t
      }
    }
    parser.on('text', text)
    parser.on('cdata', text)
    // a mark of the encoding and lines before the first tag are no part of XML
    const first = Math.max(xml.indexOf('<'), 0)
    if (
      xml
        .slice(0, first)
        .replace(/^\uFEFF/, '')
        .trim()
    )
      throw notXmp()
    this.shift = first
    parser.write(xml.slice(first))
    parser.close()
  }

  private opened(tag: SaxesTagNS): void {
    const above = this.open.at(-1)
    const prefixes = new Map(above?.holder.prefixes)
    for (const [prefix, space] of Object.entries(tag.ns)) if (prefix) prefixes.set(space, `${prefix}:`)
    const opened = this.at
    const holder = { name: tag.name, from: this.start, to: opened, opened, closing: opened, prefixes }
    const here: Open = { tag, holder }
    const isRdf = (open: Open | undefined, name: string) => open?.tag.uri === RDF && open.tag.local === name
    if (tag.uri === RDF && tag.local === 'RDF') this.rdf ??= holder
    else if (tag.uri === RDF && tag.local === 'Description' && isRdf(above, 'RDF')) {
      this.descriptions.push(holder)
      this.takeAttributes(tag)
    } else if (isRdf(above, 'Description') && this.descriptions.includes(above!.holder)) {
      const { uri: space, local: name } = tag
      const prefix = tag.prefix ? `${tag.prefix}:` : ''
      here.property = { space, name, prefix, attribute: false, from: this.start, to: 0, text: '', items: [] }
      this.properties.push(here.property)
    } else if (tag.uri === RDF && tag.local === 'li' && this.open.at(-2)?.property) {
      const lang = Object.values(tag.attributes).find((a) => a.uri === XML && a.local === 'lang')?.value ?? ''
      here.item = { from: this.start, to: 0, text: '', lang }
      this.open.at(-2)!.property!.items.push(here.item)
    }
    this.open.push(here)
  }

  private takeAttributes(tag: SaxesTagNS): void {
    let from = this.start + 1 + tag.name.length
    Object.values(tag.attributes).forEach(({ uri: space, local: name, prefix, value: text }, i) => {
      const to = this.attributes[i]
      if (space && space !== RDF && space !== XML && prefix !== 'xmlns')
        this.properties.push({
          ...{ space, name, prefix: `${prefix}:`, attribute: true },
          ...{ from, to, text, items: [] },
        })
      from = to
    })
  }

  private closed(selfClosing: boolean): void {
    const { holder, property, item } = this.open.pop()!
    holder.to = this.at
    holder.closing = selfClosing ? holder.opened : this.xml.lastIndexOf('</', holder.to - 1)
    if (property) property.to = holder.to
    if (item) item.to = holder.to
  }
}
