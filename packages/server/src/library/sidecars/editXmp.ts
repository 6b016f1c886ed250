import type { Mark, Text } from '@dunkelkammer/contract'
import { BASIC_NAMESPACE as BASIC, OWN_NAMESPACE as OWN } from '@dunkelkammer/core'
import {
  inElement,
  isEmpty,
  LEVEL,
  Properties,
  TREE,
  wordProperties,
  wordsIn,
  written,
  type Property,
  type Value,
} from '@dunkelkammer/engine/words'
import { takenApart } from './apart'
import { notXmp, standardRating, writeXmp } from './xmp'
import { RDF, xmpSource, type Holder, type Span, type Written, type XmpSource } from './xmpSource'

const DC = 'http://purl.org/dc/elements/1.1/'
const PREFIX: Readonly<Record<string, string>> = { [DC]: 'dc', [BASIC]: 'xmp', [OWN]: 'dk', [TREE]: 'kw' }

/** Stands for developments while the rest is written. */
const PLACE = '4f0c2b0e-developments'

/**
 * Writes the words, stars and mark of a frame into a sidecar that is there already (ISO 16684-1). Whatever else it says
 * stays as it is, to the letter; so does what says the same already. What the frame has no word for is taken out only
 * where the sidecar's words were ours.
 * @param development see `records.ts`; where missing, what the sidecar has of it stays
 * @param now noted as the time of the change where there is one, ISO 8601
 * @throws HttpProblem where the sidecar is not XMP
 */
export function editXmp(
  xmp: string,
  text: Text,
  rating: number,
  mark: Mark,
  development?: string,
  now?: string,
): string {
  if (xmp.replace(/^\uFEFF/, '').trim() === '')
    return writeXmp(text, rating, mark, { development, changed: now })
  const apart = takenApart(xmp)
  const rest = apart?.rest ?? xmp
  const sheet = new Sheet(rest)
  const ours = sheet.has(OWN, 'rating')
  for (const property of wordProperties(text)) if (ours || !isEmpty(property.value)) sheet.set(property)
  const plain = (space: string, name: string, value: string) =>
    sheet.set({ space, name, value: { form: 'plain', text: value } })
  plain(BASIC, 'Rating', standardRating(rating, mark))
  plain(OWN, 'rating', String(rating))
  plain(OWN, 'ratingWritten', standardRating(rating, mark))
  plain(OWN, 'mark', mark === 'none' ? '' : mark)
  if (now !== undefined && sheet.changed) plain(BASIC, 'MetadataDate', now)
  if (development !== undefined && development !== apart?.development) plain(OWN, 'development', PLACE)
  const kept = development ?? apart?.development
  const edited = sheet.edited()
  if (kept === undefined) return edited
  // what was taken out goes back to where it stood
  const hole = apart && !edited.includes(`>${PLACE}<`) ? `${sheet.prefixOf(OWN)}development>` : undefined
  const [before, after] = hole ? edited.split(new RegExp(`(?<=<${hole})(?=</)`)) : edited.split(`>${PLACE}<`)
  return hole ? `${before}${inElement(kept)}${after}` : `${before}>${inElement(kept)}<${after}`
}

interface Edit extends Span {
  text: string
}

/** A sidecar's text, and what is to be changed in it. */
class Sheet {
  private readonly source: XmpSource
  private readonly edits: Edit[] = []
  private readonly added: string[] = []
  private readonly declared = new Map<string, string>()
  private readonly home: Holder
  private readonly rdf: string

  /** @throws HttpProblem where it is not XMP */
  constructor(private readonly xml: string) {
    this.source = xmpSource(xml)
    this.home = this.source.descriptions[0] ?? this.source.rdf
    const rdf = this.home.prefixes.get(RDF)
    if (rdf === undefined) throw notXmp()
    this.rdf = rdf
  }

  get changed(): boolean {
    return this.edits.length > 0 || this.added.length > 0
  }

  has(space: string, name: string): boolean {
    return this.all(space, name).length > 0
  }

  /** Has a property say something; nothing where that is empty. */
  set(property: Property): void {
    const { space, name, value } = property
    if (value.form === 'tree') return this.setTree(property, value.paths)
    const there = this.all(space, name)
    if (there.length > 0 && says(there[0], value)) {
      for (const again of there.slice(1)) this.remove(again)
      return
    }
    const others = value.form === 'alternative' ? this.others(there) : ''
    const [first, ...rest] = there
    for (const again of rest) this.remove(again)
    if (isEmpty(value) && !others) {
      if (first) this.remove(first)
    } else if (!first) this.add(property)
    else if (!first.attribute) this.replace(first, written(property, this.rdf, first.prefix, '', others))
    else if (value.form === 'plain') {
      // within its quotes, of whichever kind they are
      const from = first.from + this.xml.slice(first.from, first.to).search(/["']/) + 1
      const escaped = inElement(value.text).replace(/"/g, '&quot;').replace(/'/g, '&apos;')
      this.replace({ from, to: first.to - 1 }, escaped)
    } else {
      this.remove(first)
      this.add(property)
    }
  }

  /** Keywords with levels, in whatever ways the sidecar has them. */
  private setTree(property: Property, paths: readonly string[]): void {
    const { words } = wordsIn(new Properties(this.xml))
    const now = (words.keywords ?? []).filter((k) => k.includes(LEVEL))
    if (sameSet(now, paths)) return
    const lists = this.source.properties.filter((p) => ['hierarchicalSubject', 'TagsList'].includes(p.name))
    for (const list of lists) {
      const items = list.name === 'TagsList' ? paths.map((p) => p.replaceAll(LEVEL, '/')) : paths
      const { space, name } = list
      if (items.length === 0 || list.attribute) this.remove(list)
      else this.replace(list, written({ space, name, value: { form: 'Bag', items } }, this.rdf, list.prefix))
    }
    const [tree] = this.all(property.space, property.name)
    if (tree && paths.length === 0) this.remove(tree)
    else if (tree) this.replace(tree, written(property, this.rdf, tree.prefix))
    else if (paths.length && lists.length === 0) this.add(property)
  }

  /** The prefix that stands for a namespace where properties are added, with its colon; declared where it is not. */
  prefixOf(space: string): string {
    const known = this.home.prefixes.get(space) ?? this.declared.get(space)
    if (known) return known
    const taken = new Set([...this.home.prefixes.values(), ...this.declared.values()])
    let prefix = PREFIX[space]
    for (let n = 2; taken.has(`${prefix}:`); n++) prefix = PREFIX[space] + n
    this.declared.set(space, `${prefix}:`)
    return `${prefix}:`
  }

  /** The text with its changes. */
  edited(): string {
    const edits = [...this.edits, ...this.additions()]
    let out = this.xml
    // from the end, so that places before stay where they are
    for (const { from, to, text } of edits.sort((a, b) => b.from - a.from || b.to - a.to))
      out = out.slice(0, from) + text + out.slice(to)
    return out
  }

  private all(space: string, name: string): Written[] {
    return this.source.properties.filter((p) => p.space === space && p.name === name)
  }

  /** Texts in other languages than the default one, as they are written. */
  private others(there: readonly Written[]): string {
    const items = there.flatMap((p) => p.items).filter((i) => !['x-default', ''].includes(i.lang))
    return items.map(({ from, to }) => this.xml.slice(from, to)).join('')
  }

  private add(property: Property): void {
    this.added.push(written(property, this.rdf, this.prefixOf(property.space)))
  }

  private replace({ from, to }: Span, text: string): void {
    this.edits.push({ from, to, text })
  }

  /** With the white space that stands before it. */
  private remove({ from, to }: Span): void {
    const before = this.xml.slice(0, from)
    this.edits.push({ from: before.trimEnd().length, to, text: '' })
  }

  /** What is added at the end of the first description, or in one of its own; and what is declared for it. */
  private additions(): Edit[] {
    if (this.added.length === 0) return []
    const { home, xml, rdf } = this
    const inside = this.source.descriptions.length > 0
    const spaces = [...this.declared]
      .map(([space, prefix]) => ` xmlns:${prefix.slice(0, -1)}="${space}"`)
      .join('')
    const at = home.from + 1 + home.name.length
    const edits: Edit[] = spaces && inside ? [{ from: at, to: at, text: spaces }] : []
    const margin = inside ? '\n   ' : '\n  '
    const elements = inside
      ? this.added
      : [
          `<${rdf}Description ${rdf}about=""${spaces}>${this.added.map((e) => `\n   ${e}`).join('')}\n  </${rdf}Description>`,
        ]
    const block = elements.map((e) => margin + e).join('')
    if (home.closing === home.opened) {
      // one tag becomes two
      const end = `${margin.slice(0, -1)}</${home.name}>`
      return [...edits, { from: home.opened - 2, to: home.opened, text: `>${block}${end}` }]
    }
    const content = xml.slice(home.opened, home.closing)
    const tail = content.length - content.trimEnd().length
    const from = home.closing - tail
    return [...edits, { from, to: from, text: tail ? block : `${block}${margin.slice(0, -1)}` }]
  }
}

const sameSet = (a: readonly string[], b: readonly string[]) =>
  a.length === b.length && a.every((v) => b.includes(v))

/** Whether a property says a value already, in whatever form. */
function says({ text, items }: Written, value: Value): boolean {
  const found = items.map((i) => i.text.trim())
  switch (value.form) {
    case 'plain':
      return items.length === 0 && text.trim() === value.text
    case 'alternative': {
      const own = items.find((i) => i.lang === 'x-default') ?? items[0]
      return (own ? own.text : text).trim() === value.text.trim() && value.text !== ''
    }
    case 'Seq':
      // several makers in one line
      return (items.length ? found.join(', ') : text.trim()) === value.items.join(', ')
    case 'Bag':
      return sameSet(items.length ? found : [text.trim()].filter(Boolean), value.items)
    default:
      return false
  }
}
