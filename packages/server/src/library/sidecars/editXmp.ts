import type { Mark, Text } from '@dunkelkammer/contract'
import { DOMParser, XMLSerializer, type Document, type Element } from '@xmldom/xmldom'
import { takenApart } from './apart'
import { BASIC_NAMESPACE as BASIC, OWN_NAMESPACE as OWN } from '@dunkelkammer/core'
import { inElement, isXmpText } from '@dunkelkammer/engine/words'
import { notXmp, standardRating, writeXmp } from './xmp'

const RDF = 'http://www.w3.org/1999/02/22-rdf-syntax-ns#'
const DC = 'http://purl.org/dc/elements/1.1/'
const XML = 'http://www.w3.org/XML/1998/namespace'
const XMLNS = 'http://www.w3.org/2000/xmlns/'
const PREFIX: Readonly<Record<string, string>> = { [DC]: 'dc', [BASIC]: 'xmp', [OWN]: 'dk', [RDF]: 'rdf' }

/** Stands for developments while the rest is written. */
const PLACE = '4f0c2b0e-developments'

/**
 * Writes the words, stars and mark of a frame into a sidecar that is there already (ISO 16684-1); whatever else it
 * says stays as it is. What the frame has no word for is taken out only where the sidecar's words were ours.
 * @param development see `records.ts`; where missing, what the sidecar has of it stays
 * @throws HttpProblem where the sidecar is not XMP
 */
export function editXmp(xmp: string, text: Text, rating: number, mark: Mark, development?: string): string {
  if (xmp.trim() === '') return writeXmp(text, rating, mark, { development })
  const apart = takenApart(xmp)
  const sheet = new Sheet(parse(apart?.rest ?? xmp))
  const ours = sheet.has(OWN, 'rating')
  const alternative = (name: string, value: string) => {
    if (value || ours) sheet.setAlternative(DC, name, value)
  }
  const list = (name: string, kind: 'Bag' | 'Seq', values: readonly string[]) => {
    if (values.length || ours) sheet.setList(DC, name, kind, values)
  }
  alternative('title', text.title)
  alternative('description', text.caption)
  alternative('rights', text.copyright)
  list('creator', 'Seq', text.creator ? [text.creator] : [])
  list('subject', 'Bag', text.keywords)
  sheet.setPlain(BASIC, 'Rating', standardRating(rating, mark))
  sheet.setPlain(OWN, 'rating', String(rating))
  sheet.setPlain(OWN, 'ratingWritten', standardRating(rating, mark))
  sheet.setPlain(OWN, 'mark', mark === 'none' ? '' : mark)
  const kept = development ?? apart?.development
  if (kept === undefined) return new XMLSerializer().serializeToString(sheet.document)
  sheet.setPlain(OWN, 'development', PLACE)
  const [before, after] = new XMLSerializer().serializeToString(sheet.document).split(`>${PLACE}<`)
  return `${before}>${inElement(kept)}<${after}`
}

function parse(xmp: string): Document {
  if (!isXmpText(xmp)) throw notXmp()
  try {
    const onError = (level: string, message: string) => {
      if (level !== 'warning') throw new Error(message)
    }
    return new DOMParser({ onError }).parseFromString(xmp.replace(/^\uFEFF/, ''), 'text/xml')
  } catch {
    throw notXmp()
  }
}

/** The descriptions of one picture in an RDF document. */
class Sheet {
  private readonly descriptions: Element[]

  constructor(readonly document: Document) {
    const rdf = document.getElementsByTagNameNS(RDF, 'RDF').item(0)
    if (!rdf) throw notXmp()
    this.descriptions = childrenOf(rdf).filter((e) => e.namespaceURI === RDF && e.localName === 'Description')
    if (this.descriptions.length === 0) {
      const fresh = this.make(RDF, 'Description')
      fresh.setAttributeNS(RDF, `${rdf.prefix ?? 'rdf'}:about`, '')
      rdf.appendChild(fresh)
      this.descriptions.push(fresh)
    }
  }

  has(space: string, name: string): boolean {
    return this.descriptions.some((d) => d.hasAttributeNS(space, name) || this.find(d, space, name))
  }

  setPlain(space: string, name: string, value: string): void {
    this.remove(space, name)
    if (!value) return
    const element = this.add(space, name)
    element.appendChild(this.document.createTextNode(clean(value)))
  }

  setList(space: string, name: string, kind: 'Bag' | 'Seq', values: readonly string[]): void {
    this.remove(space, name)
    if (values.length === 0) return
    const list = this.make(RDF, kind)
    for (const value of values) list.appendChild(this.item(value))
    this.add(space, name).appendChild(list)
  }

  /** A text in the default language; what the sidecar says in others stays. */
  setAlternative(space: string, name: string, value: string): void {
    const old = this.descriptions.map((d) => this.find(d, space, name)).find((e) => e !== undefined)
    const alt = old && childrenOf(old).find((e) => e.localName === 'Alt')
    const others = alt
      ? childrenOf(alt).filter((e) => !['x-default', null, ''].includes(e.getAttributeNS(XML, 'lang')))
      : []
    this.remove(space, name)
    if (!value && others.length === 0) return
    const list = this.make(RDF, 'Alt')
    if (value) {
      const item = this.item(value)
      item.setAttributeNS(XML, 'xml:lang', 'x-default')
      list.appendChild(item)
    }
    for (const other of others) list.appendChild(other)
    this.add(space, name).appendChild(list)
  }

  private find(description: Element, space: string, name: string): Element | undefined {
    return childrenOf(description).find((e) => e.namespaceURI === space && e.localName === name)
  }

  private remove(space: string, name: string): void {
    for (const d of this.descriptions) {
      d.removeAttributeNS(space, name)
      for (let e = this.find(d, space, name); e; e = this.find(d, space, name)) {
        // with the white space that stood before it
        const before = e.previousSibling
        if (before?.nodeType === 3 && !before.nodeValue?.trim()) d.removeChild(before)
        d.removeChild(e)
      }
    }
  }

  private add(space: string, name: string): Element {
    const element = this.make(space, name)
    const [first] = this.descriptions
    const after = first.lastChild
    const tail = after?.nodeType === 3 && !after.nodeValue?.trim() ? after : null
    first.insertBefore(this.document.createTextNode('\n  '), tail)
    first.insertBefore(element, tail)
    if (!tail) first.appendChild(this.document.createTextNode('\n '))
    return element
  }

  private item(value: string): Element {
    const item = this.make(RDF, 'li')
    item.appendChild(this.document.createTextNode(clean(value)))
    return item
  }

  /** An element under the prefix that the document has for its namespace, or under one of ours that is free. */
  private make(space: string, name: string): Element {
    const root = this.document.documentElement!
    const anchor = this.descriptions?.[0] ?? root
    let prefix = anchor.lookupPrefix(space)
    if (!prefix) {
      prefix = PREFIX[space]
      for (let n = 2; ![null, space].includes(anchor.lookupNamespaceURI(prefix)); n++)
        prefix = PREFIX[space] + n
      anchor.setAttributeNS(XMLNS, `xmlns:${prefix}`, space)
    }
    return this.document.createElementNS(space, `${prefix}:${name}`)
  }
}

const childrenOf = (element: Element): Element[] =>
  Array.from(element.childNodes).filter((n): n is Element => n.nodeType === 1)

/** Control characters are no XML at all. */
const clean = (value: string) => value.replace(/[^\P{Cc}\n\t]/gu, '')
