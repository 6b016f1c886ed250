import { curvesOf } from '@dunkelkammer/core'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { openDatabase, type Db } from '../db/open'
import { HttpProblem } from '../problem'
import { Lenses } from './lenses'
import { matchLens, wordsOf } from '@dunkelkammer/engine'
import { LensXmlError, readLensXml } from './readXml'

const XML = `<!DOCTYPE lensdatabase SYSTEM "lens.dtd">
<lensdatabase version="1">
  <!-- all forms, on invented glass -->
  <mount><name>Lindemount</name><compat>Generic</compat></mount>
  <camera><maker>Ostrava &amp; Linde</maker><maker lang="en">Ostrava</maker><model>Veldrom 3</model>
    <mount>Lindemount</mount><cropfactor>1</cropfactor></camera>
  <camera><maker>Hadde</maker><model>Reisekamera 7</model><mount>hadde7</mount><cropfactor>5.6</cropfactor></camera>
  <lens><maker>Hadde</maker><model>Tessel 24-70mm f/2.8 AS</model><mount>Lindemount</mount><mount>Generic</mount>
    <cropfactor>1</cropfactor><aspect-ratio>3:2</aspect-ratio>
    <calibration>
      <distortion model="ptlens" focal="24" a="0.02" b="-0.05" c="0.01"/>
      <distortion model="poly3" focal="70" k1="0.01"/>
      <tca model="poly3" focal="24" vr="1.0002" vb="0.9999" br="0.0001" cb="-0.0002"/>
      <tca model="linear" focal="70" kr="1.0004" kb="1"/>
      <vignetting model="pa" focal="24" aperture="2.8" distance="10" k1="-0.6" k2="0.2" k3="-0.05"/>
      <vignetting model="pa" focal="24" aperture="8" distance="1000" k1="-0.2" k2="0" k3="0"/>
      <distortion model="acm" focal="50" k1="0.1"/>
    </calibration></lens>
  <lens><maker>Hadde</maker><model>fixed lens</model><mount>hadde7</mount><cropfactor>5.6</cropfactor>
    <aspect-ratio>4:3</aspect-ratio>
    <calibration><distortion model="poly5" focal="6" k1="-0.03" k2="0.004"/></calibration></lens>
  <lens><maker>Hadde</maker><model>Rundum 8mm f/3.5</model><mount>Lindemount</mount><cropfactor>1.5</cropfactor>
    <type>equisolid</type>
    <calibration><distortion model="poly3" focal="8" k1="0"/></calibration></lens>
</lensdatabase>`

let folder: string
let db: Db
let lenses: Lenses
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'lenses-'))
  db = openDatabase(join(folder, 'library.sqlite'), 'packages/server/drizzle')
  mkdirSync(join(folder, 'database'))
  writeFileSync(join(folder, 'database/a.xml'), XML)
  writeFileSync(join(folder, 'database/b.xml'), XML.replace('</calibration>', '</calibrated>'))
  lenses = new Lenses(db, join(folder, 'database'))
})
afterAll(() => {
  db.close()
  rmSync(folder, { recursive: true })
})

describe('a lens database in XML', () => {
  it('is read with all its formulas, as their definitions say', () => {
    const found = readLensXml(XML)
    expect(found.cameras).toEqual([
      { maker: 'Ostrava & Linde', model: 'Veldrom 3', mount: 'Lindemount', crop: 1 },
      { maker: 'Hadde', model: 'Reisekamera 7', mount: 'hadde7', crop: 5.6 },
    ])
    expect(found.lenses.map((l) => l.model)).toEqual([
      'Tessel 24-70mm f/2.8 AS',
      'fixed lens',
      'Rundum 8mm f/3.5',
    ])
    // the one measurement by a formula unknown here
    expect(found.leftOut).toBe(1)
    const [zoom, fixed, round] = found.lenses
    const short = Math.sqrt(1 + 1.5 ** 2)
    const at = (focal: number) => curvesOf(zoom, { focal, aperture: 2.8, distance: 10, crop: 1 })
    // r is 1 at half the shorter side
    const r = 0.5 * short
    expect(at(24).distortion(0.5)).toBeCloseTo(r * (r * (0.02 * r - 0.05) + 0.01) + 1 - 0.02 + 0.05 - 0.01, 9)
    expect(at(70).distortion(0.5)).toBeCloseTo(1 - 0.01 + 0.01 * r * r, 9)
    const between = at(Math.sqrt(24 * 70)).distortion(0.5)
    expect(between).toBeCloseTo((at(24).distortion(0.5) + at(70).distortion(0.5)) / 2, 9)
    expect(at(24).red(0.5)).toBeCloseTo(1.0002 + 0.0001 * r * r, 9)
    expect(at(24).blue(0.5)).toBeCloseTo(0.9999 - 0.0002 * r, 9)
    expect(at(70).red(0.9)).toBeCloseTo(1.0004, 9)
    // r is 1 at half the diagonal; the point measured so counts alone
    expect(at(24).fallOff(0.8)).toBeCloseTo(1 - 0.6 * 0.64 + 0.2 * 0.64 ** 2 - 0.05 * 0.64 ** 3, 3)
    // on a smaller sensor the same glass is used nearer to its middle
    const small = curvesOf(zoom, { focal: 24, aperture: 2.8, distance: 10, crop: 1.5 })
    expect(small.distortion(0.6)).toBeCloseTo(at(24).distortion(0.4), 9)
    expect(small.fallOff(0.6)).toBeCloseTo(at(24).fallOff(0.4), 6)
    expect(curvesOf(fixed, { focal: 6, crop: 5.6 }).distortion(0.5)).toBeCloseTo(
      1 - 0.03 * (0.5 * (5 / 3)) ** 2 + 0.004 * (0.5 * (5 / 3)) ** 4,
      9,
    )
    // an equisolid fisheye turned straight: light at an angle t lies at 2 f sin(t / 2), and is wanted at f tan t
    const f = 8 / (21.6333 / 1.5)
    const straight = curvesOf(round, { focal: 8, crop: 1.5 }, true)
    for (const t of [0.2, 0.7, 1.2])
      expect(straight.distortion(f * Math.tan(t)) * Math.tan(t)).toBeCloseTo(2 * Math.sin(t / 2), 6)
    expect(curvesOf(round, { focal: 8, crop: 1.5 }).distortion(0.7)).toBeCloseTo(1, 9)
  })

  it.each([
    [XML.replace('k1="0.01"', 'k1="much"'), 12, 'not a number'],
    [XML.replace(' focal="70" k1', ' k1'), 12, 'no focal'],
    [XML.slice(0, XML.indexOf('<calibration><distortion model="poly3"')), 24, ''],
    [XML.replace('</calibration>', '</calibrated>'), 18, ''],
    [XML.replace('<cropfactor>5.6', '<cropfactor>none'), 7, 'sensor'],
    ['<?xml version="1.0"?>\n<html></html>', 2, 'no lens database'],
    ['not at all', 1, ''],
  ])('that is damaged is refused with its line (%#)', (text, line, why) => {
    try {
      readLensXml(text)
    } catch (error) {
      expect(error).toBeInstanceOf(LensXmlError)
      const message = (error as Error).message
      const said = Number(/^Line (\d+): /.exec(message)?.[1])
      expect(Math.abs(said - line)).toBeLessThanOrEqual(0)
      expect(message.replace('is not a lens database', 'no lens database')).toContain(why)
      return
    }
    expect.fail('it was taken')
  })
})

describe('the library’s lenses', () => {
  it('ship with the demo’s own, and take in what is installed but for damaged files', async () => {
    const before = lenses.list('').all
    expect(before).toBeGreaterThan(3)
    expect(lenses.find({ lens: 'Veldrom 35 mm f/2', focal: 35, crop: 1 })?.profile.crop).toBe(1)
    expect(lenses.find({ lens: 'Veldrom 35 mm f/2', focal: 23, crop: 1.53 })?.profile.crop).toBe(1.53)
    const found = await lenses.importInstalled()
    expect([found.lenses, found.cameras, found.leftOut]).toEqual([3, 2, 1])
    expect(found.problems).toHaveLength(1)
    expect(found.problems[0]).toMatch(/^b\.xml: Line 18: /)
    // once more is no more
    await lenses.importInstalled()
    expect(lenses.list('').all).toBe(before + 3)
    expect(lenses.list('hadde tessel').lenses.map((l) => [l.origin, l.focalFrom, l.focalTo])).toEqual([
      ['imported', 24, 70],
    ])
    expect(() => lenses.importText('<lensdatabase>', 'mine.xml')).toThrow(HttpProblem)
  })

  it('are found by the names that cameras write, and not by others', () => {
    const model = (wish: Parameters<Lenses['find']>[0]) => lenses.find(wish)?.profile.model
    const tessel = 'Tessel 24-70mm f/2.8 AS'
    expect(model({ make: 'HADDE', lens: 'TESSEL 24-70mm F2.8 AS', focal: 35 })).toBe(tessel)
    expect(model({ lens: 'Hadde Tessel 24-70 mm 1:f/2.8', focal: 35 })).toBe(tessel)
    // other glass of the same maker, and a length that this lens does not have
    expect(model({ lens: 'Hadde Tessel 24-105mm f/4 AS', focal: 35 })).toBeUndefined()
    expect(model({ lens: tessel, focal: 200 })).toBeUndefined()
    expect(model({ lens: '----' })).toBeUndefined()
    // a camera whose lens cannot be taken off names none
    expect(model({ make: 'Hadde', model: 'Hadde Reisekamera 7', focal: 6 })).toBe('fixed lens')
    expect(lenses.find({ make: 'Hadde', model: 'Reisekamera 7' })?.crop).toBe(5.6)
    expect(matchLens([], [], { lens: 'x' })).toBeUndefined()
    expect(wordsOf('Foo-Bar 70.0-200mm F/4.0 II')).toEqual(['foo', 'bar', '70', '200', 'f4', 'ii'])
  })

  it('are joined by those of one’s own, which alone and imported ones can be removed', () => {
    const own = lenses.add({
      ...lenses.find({ lens: 'Veldrom 35 mm f/2', focal: 35, crop: 1 })!.profile,
      model: 'Found at the lock 40mm f/2',
      distortion: [{ focal: 40, kind: 'radial', terms: [-0.02] }],
    })
    expect(lenses.find({ profile: own.id })?.profile.model).toBe('Found at the lock 40mm f/2')
    lenses.remove(own.id)
    expect(lenses.find({ profile: own.id })).toBeUndefined()
    const shipped = lenses.list('veldrom').lenses.find((l) => l.origin === 'shipped')!
    expect(() => lenses.remove(shipped.id)).toThrow(/stays/)
    expect(() => lenses.get('nothing')).toThrow(/no such lens/)
  })
})
