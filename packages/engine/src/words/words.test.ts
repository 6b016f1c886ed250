import { writeDng } from '@dunkelkammer/demo'
import { readDng } from '@dunkelkammer/core'
import { createHash } from 'node:crypto'
import { readFileSync } from 'node:fs'
import sharp from 'sharp'
import { describe, expect, it } from 'vitest'
import { contents } from '../../../core/test/files'
import { rewritten, tagsOf } from '../../test/outside'
import { adapt, identify } from '../formats'
import { nodeCodecs } from '../formats/node'
import { wordBlocks } from './blocks'
import { readIim } from './iptc'
import { decodedXml, encodedXml, encodingOf } from './encoding'
import { wordsOf } from './words'
import { carriedXmp, metadataWith } from './carry'

const picture = sharp({ create: { width: 64, height: 48, channels: 3, background: '#478' } })
const FILES: Record<string, () => Promise<Uint8Array>> = {
  jpg: () => picture.jpeg().toBuffer(),
  png: () => picture.png().toBuffer(),
  tif: () => picture.tiff().toBuffer(),
  webp: () => picture.webp().toBuffer(),
  avif: () => picture.avif().toBuffer(),
  heic: () => Promise.resolve(readFileSync(new URL('../../test/files/ramp.heic', import.meta.url))),
  dng: () => Promise.resolve(writeDng(contents({ artist: undefined }))),
}

/** What a file says, by way of everything that reads it. */
async function said(bytes: Uint8Array) {
  const format = identify(bytes)
  const blocks = wordBlocks(bytes, format)
  const { dng } = await adapt(new Uint8Array(bytes), nodeCodecs)
  return wordsOf(blocks, readDng(dng).metadata)
}

const WORDS = {
  title: 'Zollhaus & Mühle <I>',
  caption: 'Der alte Kai,\nvon Süden her. 水門',
  creator: 'Marit Oudendijk, Joost Čapek',
  copyright: '© 2026 Marit Oudendijk',
  keywords: ['harbour', 'Über|Wasser|Kai'],
}
const IN_XMP = [
  `-XMP-dc:Title=${WORDS.title}`,
  `-XMP-dc:Description=${WORDS.caption}`,
  '-XMP-dc:Creator=Marit Oudendijk',
  '-XMP-dc:Creator=Joost Čapek',
  `-XMP-dc:Rights=${WORDS.copyright}`,
  '-XMP-dc:Subject=harbour',
  '-XMP-dc:Subject=Kai',
  '-XMP-mwg-kw:HierarchicalKeywords={Keyword=Über,Children=[{Keyword=Wasser,Children=[{Keyword=Kai}]}]}',
  '-XMP-xmp:Rating=4',
  '-XMP-xmp:Label=Amber',
]

describe('words that another program wrote', () => {
  it.each(Object.keys(FILES))('are read from the XMP of a %s file', async (ending) => {
    const file = await rewritten(await FILES[ending](), `.${ending}`, IN_XMP)
    const { words, rating, label } = await said(file)
    expect(words).toEqual(WORDS)
    expect([rating, label]).toEqual([4, 'Amber'])
  })

  it.each(['jpg', 'tif', 'dng', 'png'])('are read from the IIM of a %s file', async (ending) => {
    for (const set of [['-IPTC:CodedCharacterSet=UTF8'], []]) {
      const file = await rewritten(await FILES[ending](), `.${ending}`, [
        ...set,
        '-IPTC:ObjectName=Mühle',
        '-IPTC:Caption-Abstract=Von Süden',
        '-IPTC:By-line=A. Ö',
        '-IPTC:By-line=B',
        '-IPTC:CopyrightNotice=© M',
        '-IPTC:Keywords=één',
        '-IPTC:Keywords=twee',
      ])
      expect((await said(file)).words).toEqual({
        ...{ title: 'Mühle', caption: 'Von Süden', creator: 'A. Ö, B', copyright: '© M' },
        keywords: ['één', 'twee'],
      })
    }
  })

  it('are read from the camera’s notes and from a PNG’s own texts', async () => {
    const jpeg = await rewritten(await FILES.jpg(), '.jpg', [
      '-EXIF:Artist=M. O.',
      '-EXIF:ImageDescription=Kai',
      '-EXIF:Rating=2',
    ])
    expect(await said(jpeg)).toMatchObject({ words: { creator: 'M. O.', caption: 'Kai' }, rating: 2 })
    const png = await rewritten(await FILES.png(), '.png', [
      '-PNG:Title=Haus',
      '-PNG:Author=M',
      '-PNG:Description=Süd',
      '-PNG:Copyright=C',
    ])
    expect((await said(png)).words).toEqual({ title: 'Haus', creator: 'M', caption: 'Süd', copyright: 'C' })
  })

  it('what was dropped is said by a star less than none', async () => {
    const file = await rewritten(await FILES.jpg(), '.jpg', ['-XMP-xmp:Rating=-1'])
    expect((await said(file)).rating).toBe(-1)
  })
})

describe('words that differ', () => {
  const both = (...more: string[]) => [
    '-XMP-dc:Title=of XMP',
    '-XMP-dc:Description=of XMP',
    '-IPTC:ObjectName=of IIM',
    '-IPTC:Keywords=only there',
    '-EXIF:ImageDescription=of Exif',
    ...more,
  ]
  it('count in the order XMP, IIM, Exif, and add to one another', async () => {
    const { words } = await said(await rewritten(await FILES.jpg(), '.jpg', both()))
    expect(words).toEqual({ title: 'of XMP', caption: 'of XMP', keywords: ['only there'] })
  })

  it('count by IIM first where it was changed since', async () => {
    const file = await rewritten(await FILES.jpg(), '.jpg', both())
    const { iim } = wordBlocks(file, 'jpeg')
    const digest = createHash('md5').update(iim!).digest('hex')
    for (const [written, title] of [
      [digest, 'of XMP'],
      ['00112233445566778899aabbccddeeff', 'of IIM'],
    ]) {
      const noted = await rewritten(file, '.jpg', [`-IPTCDigest=${written}`])
      expect((await said(noted)).words.title).toBe(title)
    }
  })

  it('count by Exif first where that is dated later', async () => {
    for (const [time, caption] of [
      ['2026:05:14 10:00:01', 'of Exif'],
      ['2026:05:14 09:59:59', 'of XMP'],
    ]) {
      const dates = ['-XMP-xmp:MetadataDate=2026:05:14 10:00:00', `-EXIF:ModifyDate=${time}`]
      const file = await rewritten(await FILES.jpg(), '.jpg', both(...dates))
      expect((await said(file)).words.caption).toBe(caption)
    }
  })
})

describe('words that are carried on', () => {
  it.each(['jpg', 'png', 'tif', 'webp'])(
    'are found by another program in XMP that is put into a %s',
    async (ending) => {
      const packet = carriedXmp({ words: WORDS, rating: 4, label: 'Amber' }, false)!
      const file = await rewritten(await FILES[ending](), `.${ending}`, [], packet)
      expect(await said(file)).toMatchObject({ words: WORDS, rating: 4, label: 'Amber' })
      const tags = await tagsOf(file, `.${ending}`)
      expect(tags).toMatchObject({
        'XMP-dc:Title': WORDS.title,
        'XMP-dc:Description': WORDS.caption,
        'XMP-dc:Rights': WORDS.copyright,
        'XMP-dc:Subject': ['harbour', 'Kai'],
        'XMP-xmp:Rating': 4,
        'XMP-xmp:Label': 'Amber',
      })
      expect(JSON.stringify(tags)).toContain('"Keyword":"Über"')
    },
  )

  it('go alone, or not at all', () => {
    const alone = carriedXmp({ words: WORDS, rating: 4, label: 'Amber' }, true)!
    expect(alone).toContain('Zollhaus')
    expect(alone).not.toMatch(/Rating|Label/)
    expect(carriedXmp({ words: {} }, false)).toBeUndefined()
  })

  it('stand in Exif in place of what the camera wrote', () => {
    const made = metadataWith({ orientation: 1, artist: 'camera', iso: 100, stars: 3 }, WORDS)
    expect(made).toMatchObject({ artist: WORDS.creator, copyright: WORDS.copyright, iso: 100 })
    expect(made.stars).toBeUndefined()
  })
})

describe('blocks that are damaged', () => {
  it('say nothing, and what is whole before them counts', () => {
    const set = (number: number, text: string) => [0x1c, 2, number, 0, text.length, ...Buffer.from(text)]
    const whole = Uint8Array.from([...set(5, 'Haus'), ...set(25, 'eins')])
    expect(readIim(whole)).toEqual({ title: 'Haus', keywords: ['eins'] })
    expect(readIim(whole.subarray(0, whole.length - 2))).toEqual({ title: 'Haus', keywords: [] })
    expect(readIim(Uint8Array.from([...set(5, 'Haus'), 7, ...set(25, 'eins')]))).toEqual({
      title: 'Haus',
      keywords: [],
    })
    // an extended length that leaves the block
    expect(readIim(Uint8Array.from([0x1c, 2, 5, 0x80, 4, 255, 255, 255, 255]))).toEqual({ keywords: [] })
  })

  it('do not stop the reading of a picture', async () => {
    const file = Buffer.from(await rewritten(await FILES.jpg(), '.jpg', IN_XMP))
    const at = file.indexOf('rdf:Description')
    file.write('xxx', at)
    expect((await said(file)).words).toEqual({})
  })
})

it('XML is read in the encodings that the standard asks for', () => {
  const xml = '<x>Mühle 水</x>'
  const little = Buffer.from(`\uFEFF${xml}`, 'utf16le')
  const marked = `\uFEFF${xml}`
  for (const [bytes, text, encoding] of [
    [Buffer.from(xml), xml, 'utf-8'],
    [Buffer.from(marked), marked, 'utf-8'],
    [little, marked, 'utf-16le'],
    [Buffer.from(little).swap16(), marked, 'utf-16be'],
    [Buffer.from(xml, 'utf16le'), xml, 'utf-16le'],
  ] as const) {
    expect(decodedXml(bytes)).toBe(text)
    expect(encodingOf(bytes)).toBe(encoding)
    expect(Buffer.from(encodedXml(text, encoding))).toEqual(Buffer.from(bytes))
  }
})
