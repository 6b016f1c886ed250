import { NO_TEXT, type Text } from '@dunkelkammer/contract'
import { describe, expect, it } from 'vitest'
import { FOREIGN, text } from '../../../test/xmp'
import { BASIC_NAMESPACE } from '@dunkelkammer/core'
import { editXmp } from './editXmp'
import { readXmp, writeXmp } from './xmp'

const RDF = 'xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"'
const DC = 'http://purl.org/dc/elements/1.1/'

describe('a sidecar that is there already', () => {
  it('keeps what it says beside our words, in other languages too', () => {
    const edited = editXmp(FOREIGN, text, 4, 'keep')
    for (const kept of [
      'other:grade="7"',
      '<other:steps><rdf:Seq><rdf:li other:kind="a">one &amp; two</rdf:li></rdf:Seq></other:steps>',
      '<d:format>image/x-raw</d:format>',
      '<rdf:li xml:lang="de">Schleuse</rdf:li>',
      '<!-- kept by hand -->',
      '<?xpacket end="w"?>',
    ])
      expect(edited).toContain(kept)
    expect(edited).not.toMatch(/Old|>old</)
    expect(readXmp(edited)).toEqual({ text, rating: 4, mark: 'keep' })
    // again with other words: nothing is there twice
    const again = editXmp(edited, { ...text, title: 'Second', keywords: [] }, 1, 'none')
    expect(readXmp(again)).toEqual({
      text: { ...text, title: 'Second', keywords: undefined },
      rating: 1,
      mark: undefined,
    })
    expect(again.match(/Schleuse/g)).toHaveLength(1)
    expect(again.match(/<dk:rating>/g)).toHaveLength(1)
    expect(again.match(/xmp:Rating/g)).toHaveLength(1)
    expect(editXmp(again, { ...text, title: 'Second', keywords: [] }, 1, 'none')).toBe(again)
  })

  it('keeps words that we have none for, unless they were ours', () => {
    const edited = editXmp(FOREIGN, NO_TEXT, 0, 'none')
    expect(readXmp(edited).text).toEqual({ title: 'Old', keywords: ['old'] })
    const ours = editXmp(writeXmp(text, 3, 'drop'), NO_TEXT, 0, 'none')
    expect(readXmp(ours)).toEqual({ text: {}, rating: 0, mark: undefined })
  })

  it('that has no description yet gets one, and one in attributes is read back', () => {
    const bare = '<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"/>'
    expect(readXmp(editXmp(bare, text, 5, 'drop'))).toEqual({ text, rating: 5, mark: 'drop' })
    const attributes = `<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:k="urn:dunkelkammer:1" k:rating="1" k:mark="drop" k:other="x"/></rdf:RDF>`
    const edited = editXmp(attributes, text, 2, 'none')
    expect(readXmp(edited)).toEqual({ text, rating: 2, mark: undefined })
    expect(edited).toContain('k:other="x"')
  })

  it('is written for text of any kind', () => {
    const odd: Text = {
      ...text,
      title: '<b> "x" & \'y\' ]]>',
      caption: 'a\u0007b\r\nc',
      keywords: ['水門', '&amp;'],
    }
    const read = readXmp(editXmp(FOREIGN, odd, 0, 'none'))
    expect(read.text.title).toBe(odd.title)
    expect(read.text.keywords).toEqual(odd.keywords)
  })

  it('that is empty is written anew', () => {
    for (const empty of ['', ' \n ']) expect(editXmp(empty, text, 3, 'keep')).toBe(writeXmp(text, 3, 'keep'))
  })

  it('keeps its own prefixes, and what it has beside descriptions', () => {
    const own = `<r:RDF ${RDF.replace(':rdf', ':r')}><r:li>beside</r:li></r:RDF>`
    const edited = editXmp(own, text, 1, 'none')
    expect(edited).toContain('<r:li>beside</r:li>')
    expect(edited).toMatch(/<r:Description r:about=""/)
    expect(edited).not.toContain('rdf:')
    // a prefix that stands for something else there is not taken
    const taken = `<rdf:RDF ${RDF}><rdf:Description rdf:about="" xmlns:dc="urn:other" dc:title="theirs"/></rdf:RDF>`
    const beside = editXmp(taken, text, 1, 'none')
    expect(beside).toContain('dc:title="theirs"')
    expect(beside).toContain(`xmlns:dc2="${DC}"`)
    expect(
      readXmp(editXmp(own, text, 1, 'none').replace(/\br:/g, 'rdf:').replace(':r=', ':rdf=')),
    ).toMatchObject({ text })
  })

  it('takes a title back and leaves those in other languages', () => {
    const edited = editXmp(editXmp(FOREIGN, text, 4, 'keep'), { ...text, title: '' }, 4, 'keep')
    expect(edited).toContain('<rdf:li xml:lang="de">Schleuse</rdf:li>')
    expect(edited).not.toContain('x-default">Lock')
    expect(edited).toContain('xml:lang="x-default">The lock')
  })

  it('takes a mark back', () => {
    const back = editXmp(editXmp(FOREIGN, text, 4, 'drop'), text, 0, 'none')
    expect(readXmp(back).mark).toBeUndefined()
    expect(back).not.toContain('mark')
  })

  it('stays laid out as it was', () => {
    const edited = editXmp(FOREIGN, text, 4, 'keep')
    const lines = edited.split('\n').filter((l) => l.trim() === '')
    expect(lines).toEqual([])
    expect(edited).toMatch(/\n {3}<dk:mark>[^\n]*\n {2}<\/rdf:Description>/)
  })

  it.each(['hello', '<a/>', '<rdf:RDF>', '<!DOCTYPE x [<!ENTITY a "b">]><x/>', '<a><b></a>'])(
    'that is none is refused: %s',
    (bad) => expect(() => editXmp(bad, text, 0, 'none')).toThrow('This sidecar is not XMP.'),
  )
})

/** A sidecar with forty things that we know nothing of, laid out as nobody else would. */
const ODD = [
  "<?xml version='1.0' encoding='UTF-8'?>",
  '<x:xmpmeta  xmlns:x = \'urn:example:packet\'\tx:by="some program">',
  "<rdf:RDF xmlns:rdf='http://www.w3.org/1999/02/22-rdf-syntax-ns#'>",
  `<rdf:Description rdf:about='' xmlns:a='urn:a' xmlns:xmp='${BASIC_NAMESPACE}' xmlns:dc='${DC}'`,
  ...Array.from({ length: 20 }, (_, i) => `   a:p${i} = '${i} &#38; "more" &lt;'`),
  "   xmp:Rating='2' xmp:Label='Amber' >",
  '<!-- a > b -->\t<a:cdata><![CDATA[<not> & a tag]]></a:cdata>',
  ...Array.from(
    { length: 18 },
    (_, i) => `<a:q${i}  a:x = "1"><rdf:Bag><rdf:li>é ${i}</rdf:li></rdf:Bag></a:q${i} >`,
  ),
  '<a:empty/><a:deep rdf:parseType="Resource"><dc:title>not the title</dc:title></a:deep>',
  '<dc:creator><rdf:Seq><rdf:li>A</rdf:li>\t<rdf:li>B</rdf:li></rdf:Seq></dc:creator>',
  '</rdf:Description   >',
  '</rdf:RDF></x:xmpmeta>',
  '',
].join('\r\n')

describe('what we do not know in a sidecar', () => {
  const plain = { ...NO_TEXT, creator: 'A, B' }

  it('stays to the letter, as does what says the same already', () => {
    const edited = editXmp(ODD, plain, 2, 'none')
    // ours, and nothing else, has come
    const ours = /\n {3}<dk:(rating|ratingWritten)>2<\/dk:\1>| xmlns:dk="urn:dunkelkammer:1"/g
    expect(edited.match(ours)).toHaveLength(3)
    expect(edited.replace(ours, '')).toBe(ODD)
    expect(editXmp(edited, plain, 2, 'none')).toBe(edited)
  })

  it('stays where our words change', () => {
    const once = editXmp(ODD, plain, 2, 'none')
    const edited = editXmp(once, { ...plain, creator: 'C' }, 5, 'none')
    const back = editXmp(edited, plain, 2, 'none')
    expect(readXmp(edited)).toMatchObject({ text: { creator: 'C' }, rating: 5, label: 'Amber' })
    // all but one list is as it was
    expect(back.replace(/<dc:creator>.*?<\/dc:creator>/s, '')).toBe(
      once.replace(/<dc:creator>.*?<\/dc:creator>/s, ''),
    )
  })

  it('is read and kept where keywords have levels, in all ways that are met', () => {
    const bag = (items: string[]) =>
      `<rdf:Bag>${items.map((i) => `<rdf:li>${i}</rdf:li>`).join('')}</rdf:Bag>`
    const levelled = ODD.replace(
      '<a:empty/>',
      `<dc:subject>${bag(['Kai', 'harbour', 'Wasser'])}</dc:subject><a:hierarchicalSubject>${bag(['Ort|Wasser|Kai'])}</a:hierarchicalSubject><a:TagsList>${bag(['Ort/Wasser/Kai'])}</a:TagsList>`,
    )
    const { text } = readXmp(levelled)
    expect(text.keywords).toEqual(['harbour', 'Wasser', 'Ort|Wasser|Kai'])
    const same = editXmp(levelled, { ...NO_TEXT, ...text }, 2, 'none')
    expect(same).toContain(`${bag(['Kai', 'harbour', 'Wasser'])}`)
    expect(same).toContain(bag(['Ort/Wasser/Kai']))
    const keywords = ['harbour', 'Ort|Land|Mühle']
    const changed = editXmp(levelled, { ...NO_TEXT, ...text, keywords }, 2, 'none')
    expect(changed).toContain(`<a:hierarchicalSubject>${bag(['Ort|Land|Mühle'])}</a:hierarchicalSubject>`)
    expect(changed).toContain(`<a:TagsList>${bag(['Ort/Land/Mühle'])}</a:TagsList>`)
    expect(readXmp(changed).text.keywords).toEqual(keywords)
    expect(changed).not.toContain('Kai')
  })

  it('notes when it was changed, and only then', () => {
    const now = '2026-05-14T10:00:00Z'
    const edited = editXmp(ODD, plain, 3, 'none', undefined, now)
    expect(readXmp(edited).changed).toBe(now)
    expect(editXmp(edited, plain, 3, 'none', undefined, '2027-01-01T00:00:00Z')).toBe(edited)
  })
})

describe('our sidecars', () => {
  it('give back every word, star and mark', () => {
    expect(readXmp(writeXmp(text, 3, 'keep'))).toEqual({ text, rating: 3, mark: 'keep' })
    expect(readXmp(writeXmp(NO_TEXT, 0, 'none'))).toEqual({ text: {}, rating: 0, mark: undefined })
    expect(readXmp(writeXmp(text, 3, 'drop'))).toEqual({ text, rating: 3, mark: 'drop' })
  })

  it('say the stars where other programs look, and take what these make of them', () => {
    const rating = /(xmp:Rating(?:>|="))(.*?)(?=[<"])/
    const standard = (xmp: string) => rating.exec(xmp)?.[2]
    for (const write of [
      writeXmp,
      (...as: [typeof text, number, 'keep' | 'drop']) => editXmp(FOREIGN, ...as),
    ]) {
      const kept = write(text, 3, 'keep')
      const dropped = write(text, 3, 'drop')
      expect([standard(kept), standard(dropped)]).toEqual(['3', '-1'])
      const changed = (xmp: string, to: string) => readXmp(xmp.replace(rating, `$1${to}`))
      expect(changed(kept, '5')).toMatchObject({ rating: 5, mark: 'keep' })
      expect(changed(kept, '-1')).toMatchObject({ rating: 3, mark: 'drop' })
      expect(changed(dropped, '2')).toMatchObject({ rating: 2, mark: 'none' })
    }
    // from before the standard's was written: what it says is older than ours
    const older = writeXmp(text, 4, 'keep').replace(/<dk:ratingWritten>.*?>/, '')
    expect(readXmp(older.replace(/<xmp:Rating>4/, '<xmp:Rating>2'))).toMatchObject({
      rating: 4,
      mark: 'keep',
    })
  })

  const packet = (inside: string, more = '') =>
    `<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description xmlns:dc="http://purl.org/dc/elements/1.1/"${more}>${inside}</rdf:Description></rdf:RDF>`

  it.each<[string, object]>([
    [packet('', ' dc:title="in one word"'), { title: 'in one word' }],
    [packet('<dc:title>plain</dc:title>'), { title: 'plain' }],
    [packet('<dc:title xml:lang="de">  bare \n line </dc:title>'), { title: 'bare line' }],
    [packet('<dc:title><rdf:Alt><rdf:li xml:lang="de">nur</rdf:li></rdf:Alt></dc:title>'), { title: 'nur' }],
    [packet('<dc:title><rdf:Alt/></dc:title>'), {}],
    [packet('<dc:subject>one</dc:subject>'), { keywords: ['one'] }],
    [
      packet('<dc:subject><rdf:Bag><rdf:li>a</rdf:li><rdf:li/><rdf:li> b </rdf:li></rdf:Bag></dc:subject>'),
      { keywords: ['a', 'b'] },
    ],
    [packet(`<dc:title>${'x'.repeat(400)}</dc:title>`), { title: 'x'.repeat(300) }],
    [packet(''), {}],
  ])('say what they say: %s', (xmp, words) => expect(readXmp(xmp).text).toEqual(words))

  it.each([
    '<x/>',
    '<rdf:RDF><rdf:Description/></rdf:RDF>',
    '<rdf:RDF/>x',
    `<!-- ${'x'.repeat(17e6)} -->${packet('')}`,
    '<rdf:RDF>text</rdf:RDF>',
  ])('are none: %#', (bad) => expect(() => readXmp(bad)).toThrow('This sidecar is not XMP.'))

  it('are read in the other forms that the standard allows', () => {
    const other = `<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
      <rdf:Description xmp:Rating="4" xmlns:xmp="${BASIC_NAMESPACE}" xmlns:dc="${DC}">
        <dc:title><rdf:Alt><rdf:li xml:lang="de">Mühle</rdf:li><rdf:li xml:lang="x-default">Mill</rdf:li></rdf:Alt></dc:title>
      </rdf:Description>
      <rdf:Description xmlns:dc="${DC}" xmlns:m="urn:maker" m:Rating="75"><m:title>Not this</m:title><dc:subject><rdf:Bag><rdf:li>one</rdf:li></rdf:Bag></dc:subject>
        <dc:creator><rdf:Seq><rdf:li>A</rdf:li><rdf:li>B</rdf:li></rdf:Seq></dc:creator></rdf:Description>
      </rdf:RDF>`
    expect(readXmp(other)).toEqual({
      text: { title: 'Mill', creator: 'A, B', keywords: ['one'] },
      rating: 4,
      mark: undefined,
    })
    // what the standard calls rejected is dropped
    expect(readXmp(other.replace('"4"', '"-1"'))).toMatchObject({ rating: undefined, mark: 'drop' })
  })
})

describe('developments in a sidecar', () => {
  const odd = '{"name":"<Früh> & “x” \'y\' ]]> 水門 &amp;lt;"}'
  it('come back as they were, and stay where words alone are written', () => {
    const ours = writeXmp(text, 3, 'none', { development: odd })
    expect(readXmp(ours)).toEqual({ text, rating: 3, mark: undefined, development: odd })
    const edited = editXmp(ours, { ...text, title: 'Second' }, 4, 'keep')
    expect(readXmp(edited)).toMatchObject({ development: odd, rating: 4, text: { title: 'Second' } })
    const foreign = editXmp(FOREIGN, text, 1, 'none', odd)
    expect(readXmp(foreign).development).toBe(odd)
    expect(foreign).toContain('other:grade="7"')
    expect(editXmp(foreign, text, 1, 'none', odd)).toBe(foreign)
    expect(readXmp(editXmp(foreign, text, 1, 'none', '{}')).development).toBe('{}')
  })

  it('are read as other programs may have written them again', () => {
    const rewritten = writeXmp(text, 3, 'none', { development: odd })
      .replaceAll('dk:', 'ours:')
      .replace('xmlns:dk=', 'xmlns:ours=')
      .replace('水門', '&#27700;&#x9580;')
    expect(readXmp(rewritten).development).toBe(odd)
    const attribute = `<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:k="urn:dunkelkammer:1" k:development="{&quot;a&quot;:1}"/></rdf:RDF>`
    expect(readXmp(attribute).development).toBe('{"a":1}')
    expect(readXmp(editXmp(attribute, text, 0, 'none')).development).toBe('{"a":1}')
  })

  it('may be long where the rest may not, and what is hostile is refused before it is parsed', () => {
    const long = JSON.stringify({ path: 'A'.repeat(9e6) })
    expect(readXmp(writeXmp(text, 3, 'none', { development: long })).development).toBe(long)
    const inRdf = (x: string) => writeXmp(text, 0, 'none').replace('<dk:rating>', `${x}<dk:rating>`)
    for (const hostile of ['<dk:x/>'.repeat(1e6), '<a>'.repeat(5e5) + '</a>'.repeat(5e5)])
      for (const act of [readXmp, (x: string) => editXmp(x, text, 0, 'none')])
        expect(() => act(inRdf(hostile))).toThrow('This sidecar is not XMP.')
  })
})
