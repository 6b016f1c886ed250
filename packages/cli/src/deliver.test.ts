import { projectRoot } from '@dunkelkammer/engine/node'
import { DeliverySchema, madeByIn, partOf } from '@dunkelkammer/core'
import { spawn, spawnSync } from 'node:child_process'
import {
  copyFileSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import sharp from 'sharp'
import { afterAll, beforeEach, describe, expect, it } from 'vitest'

const root = projectRoot()
const program = join(root, 'packages/cli/bin/dunkelkammer.mjs')
const demo = (name: string) => join(root, 'packages/demo/frames', `${name}.dng`)
const place = mkdtempSync(join(tmpdir(), 'dunkelkammer-'))
afterAll(() => rmSync(place, { recursive: true }))

let to: string
let runs = 0
beforeEach(() => (to = join(place, `to ${++runs}`)))

function shell(...args: string[]) {
  const result = spawnSync(process.execPath, [program, 'deliver', ...args], { encoding: 'utf8' })
  return { code: result.status, out: result.stdout.split('\n').filter(Boolean), err: result.stderr }
}
function delivery(name: string, part: object): string {
  const file = join(place, `${name}.json`)
  writeFileSync(file, JSON.stringify({ name, ...part }))
  return file
}
const SMALL = { size: { by: 'long edge', pixels: 60 } }
const files = (folder = to) => readdirSync(folder).sort()

describe('deliveries from the shell', () => {
  it('are made of all files, each by its own long edge, upright and across, raw and not', async () => {
    const picture = join(place, 'picture.jpg')
    await sharp({ create: { width: 90, height: 200, channels: 3, background: '#468' } })
      .jpeg()
      .toFile(picture)
    const web = delivery('Web', { ...SMALL, fileName: '{number} {name} {width}x{height}' })
    const print = delivery('Print', {
      ...{ format: { kind: 'tiff', compression: 'lzw' }, size: { by: 'short edge', pixels: 30 } },
      place: { in: 'library', subfolder: 'print' },
    })
    const { code, out, err } = shell(
      ...[demo('HM0417'), demo('HM0405'), picture],
      ...['--delivery', web, '--delivery', print, '--to', to],
    )
    expect([code, err]).toEqual([0, ''])
    expect(out).toHaveLength(6)
    expect(files()).toEqual(['01 HM0417 60x40.jpg', '02 HM0405 40x60.jpg', '03 picture 27x60.jpg', 'print'])
    expect(files(join(to, 'print'))).toEqual(['HM0405.tif', 'HM0417.tif', 'picture.tif'])
    for (const [name, width, height] of [
      ['HM0417', 45, 30],
      ['HM0405', 30, 45],
      ['picture', 30, 67],
    ] as const)
      expect(await sharp(join(to, 'print', `${name}.tif`)).metadata()).toMatchObject({
        ...{ width, height, format: 'tiff', depth: 'ushort' },
      })
  })

  it('copy originals, and number names that are taken', () => {
    const originals = delivery('Originals', { format: { kind: 'original' }, fileName: 'same' })
    expect(shell(demo('HM0417'), demo('HM0403'), '--delivery', originals, '--to', to).code).toBe(0)
    expect(files()).toEqual(['same (2).dng', 'same.dng'])
    const [one, other] = files().map((name) => readFileSync(join(to, name)))
    const sources = [readFileSync(demo('HM0417')), readFileSync(demo('HM0403'))]
    expect(
      sources.some((s) => s.equals(one)) && sources.some((s) => s.equals(other)) && !one.equals(other),
    ).toBe(true)
  })

  it('hold the settings that they were made by, where that is wanted', () => {
    const settings = join(place, 'settings.json')
    writeFileSync(settings, JSON.stringify({ steps: { exposure: { ev: -1.5 } } }))
    const kinds = ['jpeg', 'tiff', 'dng'].map((kind) =>
      delivery(`Kept ${kind}`, { ...SMALL, format: { kind }, fileName: kind, keepSettings: true }),
    )
    const silent = [
      delivery('Silent', { ...SMALL, fileName: 'silent' }),
      delivery('Bare', { ...SMALL, fileName: 'bare', keepSettings: true, metadata: 'nothing' }),
    ]
    const orders = [...kinds, ...silent].flatMap((file) => ['--delivery', file])
    expect(shell(demo('HM0417'), '--settings', settings, ...orders, '--to', to).code).toBe(0)
    const found = (name: string) => madeByIn(readFileSync(join(to, name)))
    for (const name of ['jpeg.jpg', 'tiff.tif', 'dng.dng'])
      expect(partOf(found(name)!.development, 'exposure')).toMatchObject({ settings: { ev: -1.5 } })
    expect(found('jpeg.jpg')!.delivery).toBe('Kept jpeg')
    expect([found('silent.jpg'), found('bare.jpg')]).toEqual([undefined, undefined])
  })

  it('hand nothing over, and say so', () => {
    const given = delivery('Retouch', { ...SMALL, handOver: { to: 'folder' } })
    const { code, err } = shell(demo('HM0417'), '--delivery', given, '--to', to)
    expect([code, err.trim()]).toEqual([
      ...[0, '“Retouch”: the files are made; handing them over is left to the server.'],
    ])
  })

  it('show a ramp finer than their levels by its mean', async () => {
    // from level 40 to 41 of 255, in the 16 bits of the file that comes in
    const [width, height] = [2000, 64]
    const truth = (x: number) => 40 + x / (width - 1)
    const row = Uint16Array.from({ length: width * 3 }, (_, i) => Math.round(truth(Math.floor(i / 3)) * 257))
    const samples = new Uint16Array(width * 3 * height)
    for (let y = 0; y < height; y++) samples.set(row, y * width * 3)
    const ramp = join(place, 'ramp.png')
    await sharp(samples, { raw: { width, height, channels: 3 } })
      .toColourspace('rgb16')
      .png()
      .toFile(ramp)
    const kinds = [{ kind: 'png' }, { kind: 'tiff', bits: 8 }]
    const orders = kinds.flatMap((format) => [
      '--delivery',
      delivery(`Ramp ${format.kind}`, { format, fileName: format.kind }),
    ])
    expect(shell(ramp, ...orders, '--to', to).code).toBe(0)
    for (const name of ['png.png', 'tiff.tif']) {
      const { data, info } = await sharp(join(to, name)).raw().toBuffer({ resolveWithObject: true })
      expect([info.width, info.height]).toEqual([width, height])
      const at = (x: number, y: number, c: number) => data[(y * width + x) * info.channels + c]
      for (let c = 0; c < 3; c++)
        for (let x = 0; x + 64 <= width; x += 32) {
          let sum = 0
          for (let y = 0; y < height; y++) for (let i = x; i < x + 64; i++) sum += at(i, y, c)
          const off = sum / (64 * height) - (truth(x) + truth(x + 63)) / 2
          expect(Math.abs(off), `${name}, ${c}, ${x}`).toBeLessThan(0.02)
        }
      // in the middle, where chance alone gives runs of 11 in a row of 500
      let longest = 0
      for (let y = 0; y < height; y++)
        for (let x = 751, run = 1; x < 1250; x++) {
          run = at(x, y, 1) === at(x - 1, y, 1) ? run + 1 : 1
          longest = Math.max(longest, run)
        }
      expect(longest).toBeLessThan(12)
    }
  })

  it('sharpen at the final size, by the medium and its amount', async () => {
    const size = { by: 'long edge', pixels: 700 }
    const edges = async (name: string, sharpening: object, ppi = 300) => {
      const made = delivery(name, {
        size: { ...size, ppi },
        sharpening,
        format: { kind: 'png' },
        fileName: name,
      })
      expect(shell(demo('HM0466'), '--delivery', made, '--to', to).code).toBe(0)
      const { data, info } = await sharp(join(to, `${name}.png`))
        .greyscale()
        .raw()
        .toBuffer({ resolveWithObject: true })
      let sum = 0
      for (let i = 1; i < data.length; i++) if (i % info.width) sum += Math.abs(data[i] - data[i - 1])
      return sum / data.length
    }
    const none = await edges('none', {})
    const screen = await edges('screen', { medium: 'screen' })
    const glossy = await edges('glossy', { medium: 'glossy paper' })
    const matt = await edges('matt', { medium: 'matt paper' })
    expect(screen).toBeGreaterThan(none * 1.03)
    expect(glossy).toBeGreaterThan(screen)
    expect(matt).toBeGreaterThan(glossy)
    expect(await edges('half', { medium: 'matt paper', amount: 0.5 })).toBeLessThan(matt)
    // fewer pixels to the inch lose less to the same ink
    expect(await edges('coarse', { medium: 'matt paper' }, 150)).toBeLessThan(matt)
  })

  it('enlarge where that is asked for, by one kernel or the other', async () => {
    const size = { by: 'percent', percent: 130 }
    const made = (name: string, part: object) =>
      delivery(name, { format: { kind: 'png' }, size: { ...size, ...part }, fileName: name })
    const orders = [
      made('stays', {}),
      made('cubic', { enlarge: true }),
      made('lanczos', { enlarge: true, kernel: 'lanczos' }),
    ]
    expect(shell(demo('HM0403'), ...orders.flatMap((o) => ['--delivery', o]), '--to', to).code).toBe(0)
    const read = (name: string) =>
      sharp(join(to, `${name}.png`))
        .raw()
        .toBuffer({ resolveWithObject: true })
    const [stays, cubic, lanczos] = [await read('stays'), await read('cubic'), await read('lanczos')]
    expect(cubic.info.width).toBe(Math.round(stays.info.width * 1.3))
    expect([lanczos.info.width, lanczos.info.height]).toEqual([cubic.info.width, cubic.info.height])
    expect(cubic.data.equals(lanczos.data)).toBe(false)
  })

  it('say in a sentence what is wrong, make the rest, and try again what failed', () => {
    const small = delivery('Small', SMALL)
    expect(shell(demo('HM0417'), '--to', to)).toMatchObject({ code: 2 })
    expect(shell(demo('HM0417'), '--delivery', small)).toMatchObject({ code: 2 })
    const wrong = delivery('Wrong', { size: { by: 'long edge', pixels: 3 } })
    const refused = shell(demo('HM0417'), '--delivery', wrong, '--to', to)
    expect(refused.code).toBe(3)
    expect(refused.err).toMatch(/Wrong\.json: This is not a delivery\. size\.pixels: /)
    const later = join(place, 'later.dng')
    const first = shell(demo('HM0417'), later, '--delivery', small, '--to', to)
    expect([first.code, first.out.length]).toEqual([1, 1])
    expect(first.err).toMatch(/later\.dng: There is no such file or folder\.\n$/)
    copyFileSync(demo('HM0403'), later)
    const second = shell(demo('HM0417'), later, '--delivery', small, '--to', to)
    expect([second.code, second.out]).toEqual([0, [join(to, 'later.jpg')]])
    expect(files()).toEqual(['HM0417.jpg', 'later.jpg'])
    writeFileSync(join(place, 'file'), '')
    expect(shell(demo('HM0417'), '--delivery', small, '--to', join(place, 'file')).code).toBe(4)
  })

  it('go on after being killed, without making anything twice or leaving a piece', async () => {
    const names = ['HM0403', 'HM0417']
    const sources = names.flatMap((name) =>
      [1, 2].map((n) => {
        const file = join(place, `${name}-${n}.dng`)
        copyFileSync(demo(name), file)
        return file
      }),
    )
    const orders = [
      delivery('Small', { size: { by: 'long edge', pixels: 500 } }),
      delivery('Deep', { format: { kind: 'tiff' }, size: { by: 'long edge', pixels: 300 } }),
    ]
    const args = [...sources, ...orders.flatMap((o) => ['--delivery', o]), '--to', to]
    mkdirSync(to)
    // someone else's file of one of the names stays what it is
    writeFileSync(join(to, 'HM0417-1.jpg'), 'not ours')
    let kills = 0
    for (;;) {
      const child = spawn(process.execPath, [program, 'deliver', ...args], {
        stdio: ['ignore', 'pipe', 'ignore'],
      })
      const ended = new Promise<number | null>((done) => child.on('exit', (code) => done(code)))
      // some time after it has made another one, in the middle of the next
      const after = (kills * 67) % 400
      child.stdout.once('data', () => setTimeout(() => child.kill('SIGKILL'), after))
      const code = await ended
      // nothing under a final name is in pieces, at any time
      for (const name of files().filter((n) => /^[^.].*\.(jpg|tif)$/.test(n) && n !== 'HM0417-1.jpg'))
        await sharp(join(to, name)).stats()
      if (code === 0) break
      expect(code).toBe(null)
      expect(++kills).toBeLessThan(20)
    }
    expect(kills).toBeGreaterThan(1)
    const wanted = sources.flatMap((file) => {
      const bare = file.slice(place.length + 1, -4)
      return [bare === 'HM0417-1' ? `${bare} (2).jpg` : `${bare}.jpg`, `${bare}.tif`]
    })
    expect(files()).toEqual([...wanted, 'HM0417-1.jpg'].sort())
    expect(readFileSync(join(to, 'HM0417-1.jpg'), 'utf8')).toBe('not ours')
  })

  it('are described by a schema, which takes what the program writes', () => {
    const { stdout } = spawnSync(process.execPath, [program, 'schema', 'delivery'], { encoding: 'utf8' })
    const schema = JSON.parse(stdout) as { properties: Record<string, unknown> }
    for (const part of Object.keys(DeliverySchema.parse({})))
      expect(Object.keys(schema.properties)).toContain(part)
    expect(existsSync(to)).toBe(false)
  })
})
