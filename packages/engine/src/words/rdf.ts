import { DOMParser, type Document, type Element } from '@xmldom/xmldom'

export const RDF = 'http://www.w3.org/1999/02/22-rdf-syntax-ns#'
const XML = 'http://www.w3.org/XML/1998/namespace'

/** Most characters that are parsed: entities or depth could otherwise unfold to any size. */
const MOST_PARSED = 1 << 20

/** A text that is no XMP. */
export class NotXmp extends Error {}

/** Whether a text may be parsed at all. */
export const isXmpText = (xml: string): boolean => xml.length <= MOST_PARSED && !/<!DOCTYPE/i.test(xml)

/** @throws NotXmp */
export function parseXml(xml: string): Document {
  if (!isXmpText(xml)) throw new NotXmp()
  try {
    const onError = (level: string, message: string) => {
      if (level !== 'warning') throw new Error(message)
    }
    return new DOMParser({ onError }).parseFromString(xml.replace(/^\uFEFF/, '').trim(), 'text/xml')
  } catch {
    throw new NotXmp()
  }
}

export const childrenOf = (element: Element): Element[] =>
  Array.from(element.childNodes).filter((n): n is Element => n.nodeType === 1)

/** Properties of one picture in XMP (ISO 16684-1), whatever the form in which they are written. */
export class Properties {
  private readonly descriptions: Element[]

  /** @throws NotXmp */
  constructor(xml: string) {
    const rdf = parseXml(xml).getElementsByTagNameNS(RDF, 'RDF').item(0)
    if (!rdf) throw new NotXmp()
    this.descriptions = childrenOf(rdf).filter((e) => e.namespaceURI === RDF && e.localName === 'Description')
    if (this.descriptions.length === 0 && rdf.textContent?.trim()) throw new NotXmp()
  }

  /** Values of a property: the items of a list, those in the default language first, or the only value. */
  all(space: string, name: string): string[] {
    for (const d of this.descriptions) {
      if (d.hasAttributeNS(space, name)) return [(d.getAttributeNS(space, name) ?? '').trim()]
      const element = childrenOf(d).find((e) => e.namespaceURI === space && e.localName === name)
      if (element) return valuesOf(element)
    }
    return []
  }

  one(space: string, name: string): string | undefined {
    return this.all(space, name)[0] || undefined
  }

  /** Elements of a name in any namespace, for what many programs write alike. */
  named(name: string): Element[] {
    return this.descriptions.flatMap((d) => childrenOf(d).filter((e) => e.localName === name))
  }
}

/** Values of a property's element. */
export function valuesOf(element: Element): string[] {
  const list = childrenOf(element).find(
    (e) => e.namespaceURI === RDF && ['Bag', 'Seq', 'Alt'].includes(e.localName ?? ''),
  )
  if (!list) return [(element.textContent ?? '').trim()]
  const isDefault = (e: Element) => e.getAttributeNS(XML, 'lang') === 'x-default'
  return childrenOf(list)
    .filter((e) => e.localName === 'li')
    .sort((a, b) => Number(isDefault(b)) - Number(isDefault(a)))
    .map((e) => (e.textContent ?? '').trim())
}
