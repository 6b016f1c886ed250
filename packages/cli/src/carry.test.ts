import { projectRoot } from '@dunkelkammer/engine/node'
import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import sharp from 'sharp'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { rewritten, tagsOf } from '../../engine/test/outside'

const program = join(projectRoot(), 'packages/cli/bin/dunkelkammer.mjs')
const place = mkdtempSync(join(tmpdir(), 'dunkelkammer-'))
afterAll(() => rmSync(place, { recursive: true }))

const shell = (...args: string[]) => spawnSync(process.execPath, [program, ...args], { encoding: 'utf8' })

const source = join(place, 'quay.jpg')
beforeAll(async () => {
  const jpeg = await sharp({ create: { width: 64, height: 48, channels: 3, background: '#468' } })
    .jpeg()
    .toBuffer()
  const told = [
    '-XMP-dc:Title=Quai',
    '-XMP-dc:Creator=Marit Oudendijk',
    '-XMP-dc:Subject=harbour',
    '-XMP-xmp:Rating=4',
    '-XMP-xmp:Label=Amber',
    '-IPTC:Caption-Abstract=Früh',
    '-EXIF:Make=Ostrava',
    '-GPS:GPSLatitude=52.25',
    '-GPS:GPSLatitudeRef=N',
    '-GPS:GPSLongitude=4.75',
    '-GPS:GPSLongitudeRef=E',
    ...['-EXIF:XResolution=240', '-EXIF:YResolution=240', '-EXIF:ResolutionUnit=inches'],
  ]
  writeFileSync(source, await rewritten(jpeg, '.jpg', told))
})

/** What an independent reader finds in the file that the shell makes. */
async function made(carry?: string) {
  const to = join(place, `${carry ?? 'usual'}.jpg`)
  const { status } = shell('develop', source, '--to', to, ...(carry ? ['--carry', carry] : []))
  expect(status).toBe(0)
  return tagsOf(readFileSync(to), '.jpg')
}

const WORDS = {
  'XMP-dc:Title': 'Quai',
  'XMP-dc:Creator': 'Marit Oudendijk',
  'XMP-dc:Description': 'Früh',
  'XMP-dc:Subject': 'harbour',
  'IFD0:Artist': 'Marit Oudendijk',
}
const one = (tags: Record<string, unknown>) =>
  Object.fromEntries(Object.entries(tags).map(([k, v]) => [k, Array.isArray(v) ? v.join() : v]))

describe('the resolution of a file', () => {
  const resolutionOf = async (file: string) =>
    (await tagsOf(readFileSync(file), file.slice(file.lastIndexOf('.'))))['IFD0:XResolution']

  it('is that of its original in every format, unless another is chosen', async () => {
    for (const ending of ['jpg', 'png', 'tif', 'webp', 'avif']) {
      const to = join(place, `resolution.${ending}`)
      expect(shell('develop', source, '--to', to).status).toBe(0)
      expect(await resolutionOf(to), ending).toBe(240)
    }
    const delivery = join(place, 'chosen.json')
    writeFileSync(delivery, JSON.stringify({ name: 'Own', size: { by: 'full', ppi: 150 } }))
    const { stdout } = shell('deliver', source, '--delivery', delivery, '--to', join(place, 'own'))
    expect(await resolutionOf(stdout.trim())).toBe(150)
  })

  it('is 300 where its original is a raw file', async () => {
    const to = join(place, 'raw.jpg')
    const raw = join(projectRoot(), 'packages/demo/frames/HM0417.dng')
    expect(shell('develop', raw, '--to', to, '--long-edge', '64').status).toBe(0)
    expect(await resolutionOf(to)).toBe(300)
  })
})

describe('what a file from the shell says beside the picture', () => {
  it('is all that its original says, as long as nothing else is asked', async () => {
    for (const carry of [undefined, 'all'])
      expect(one(await made(carry))).toMatchObject({
        ...WORDS,
        ...{ 'XMP-xmp:Rating': 4, 'XMP-xmp:Label': 'Amber', 'IFD0:Make': 'Ostrava' },
        ...{ 'GPS:GPSLatitude': 52.25, 'GPS:GPSLongitude': 4.75 },
      })
  })

  it('is found by others in every format', async () => {
    for (const ending of ['png', 'tif', 'webp', 'avif', 'dng']) {
      const to = join(place, `found.${ending}`)
      expect(shell('develop', source, '--to', to).status).toBe(0)
      const tags = one(await tagsOf(readFileSync(to), `.${ending}`))
      expect(tags, ending).toMatchObject({ ...WORDS, 'XMP-xmp:Rating': 4, 'XMP-xmp:Label': 'Amber' })
    }
  })

  it('is all but the position', async () => {
    const tags = one(await made('no-position'))
    expect(tags).toMatchObject({ ...WORDS, 'XMP-xmp:Rating': 4, 'IFD0:Make': 'Ostrava' })
    expect(Object.keys(tags).filter((k) => k.startsWith('GPS'))).toEqual([])
  })

  it('is the words alone, or nothing', async () => {
    const words = one(await made('words'))
    expect(words).toMatchObject(WORDS)
    for (const absent of ['IFD0:Make', 'XMP-xmp:Rating', 'GPS:GPSLatitude'])
      expect(words).not.toHaveProperty(absent)
    const nothing = Object.keys(await made('nothing')).filter((k) => /^(XMP|GPS|IPTC|ExifIFD)/.test(k))
    expect(nothing).toEqual([])
  })

  it('is none of what there is otherwise', () => {
    const { status, stderr } = shell('develop', source, '--to', join(place, 'x.jpg'), '--carry', 'some')
    expect(status).toBe(2)
    expect(stderr).toContain('--carry: One of all, no-position, words, nothing.')
  })

  it('goes into deliveries too', async () => {
    const delivery = join(place, 'web.json')
    writeFileSync(delivery, JSON.stringify({ name: 'Web', metadata: 'no position' }))
    const { stdout } = shell('deliver', source, '--delivery', delivery, '--to', join(place, 'web'))
    const tags = one(await tagsOf(readFileSync(stdout.trim()), '.jpg'))
    expect(tags).toMatchObject({ ...WORDS, 'XMP-xmp:Label': 'Amber' })
    expect(Object.keys(tags).filter((k) => k.startsWith('GPS'))).toEqual([])
  })
})

it('a moving picture is developed from its first, which is said', async () => {
  const samples = Buffer.alloc(64 * 96 * 3, 200).fill(40, 64 * 48 * 3)
  const raw = { width: 64, height: 96, channels: 3, pageHeight: 48 } as const
  const file = join(place, 'moving.webp')
  writeFileSync(
    file,
    await sharp(samples, { raw })
      .webp({ lossless: true, delay: [50, 50] })
      .toBuffer(),
  )
  const { status, stderr } = shell('develop', file, '--to', join(place, 'first.png'))
  expect(status).toBe(0)
  expect(stderr).toContain('moving.webp: This is a moving picture. Its first picture is taken.')
  const { channels } = await sharp(join(place, 'first.png')).stats()
  expect(channels.map((c) => [c.min, c.max])).toEqual([
    [200, 200],
    [200, 200],
    [200, 200],
  ])
})
