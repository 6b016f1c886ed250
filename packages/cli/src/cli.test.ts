import { projectRoot } from '@dunkelkammer/engine/node'
import { automatic, createEngine, builtEngineFiles } from '@dunkelkammer/engine/node'
import { readDevelopment } from '@dunkelkammer/core'
import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import sharp from 'sharp'
import { afterAll, describe, expect, it } from 'vitest'

const root = projectRoot()
const frame = join(root, 'packages/demo/frames/HM0417.dng')
const folder = mkdtempSync(join(tmpdir(), 'dunkelkammer-'))
afterAll(() => rmSync(folder, { recursive: true }))

function shell(...args: string[]) {
  const result = spawnSync(process.execPath, [join(root, 'packages/cli/bin/dunkelkammer.mjs'), ...args], {
    encoding: 'utf8',
  })
  return { code: result.status, out: result.stdout, err: result.stderr }
}
/** One line that ends as a sentence does, after the name of the file it is about. */
const oneLine = (text: string) => expect(text.trim()).toMatch(/^([^\n]*: )?(--[\w-]+|[A-Z“])[^\n]*[.…]$/)

/** First bytes of kinds of files. */
const HEADS = {
  heic: '\0\0\0\x18ftypheic\0\0\0\0heicmif1',
  avif: '\0\0\0\x18ftypavif\0\0\0\0avifmif1',
  webp: 'RIFF\x70\x17\0\0WEBPVP8 ',
  raw: 'FUJIFILMCCD-RAW ',
}

describe('shell', () => {
  it('tells what is in a file', () => {
    const { code, out } = shell('info', frame)
    expect(code).toBe(0)
    expect(JSON.parse(out)).toMatchObject([
      { width: 2256, height: 1504, pattern: 'RGGB', metadata: { model: 'Veldrom 3' } },
    ])
  })

  it('sets from the picture what it is told to', async () => {
    const bright = async (name: string, ...auto: string[]) => {
      const target = join(folder, `${name}.png`)
      const { code, err } = shell('develop', frame, '--to', target, '--long-edge', '300', ...auto)
      expect([code, err]).toEqual([0, ''])
      return (await sharp(target).stats()).channels.map((c) => c.mean)
    }
    const plain = await bright('plain')
    const engine = createEngine(builtEngineFiles())
    const picture = await engine.open(readFileSync(frame))
    const { steps } = await automatic(picture, readDevelopment({}), ['exposure'], 1)
    engine.stop()
    expect(Math.sign((await bright('exposed', '--auto', 'exposure'))[1] - plain[1])).toBe(
      Math.sign(steps.exposure.ev),
    )
    // all of it together is more than one of them, and a level turns the frame
    const all = await bright('all', '--auto', 'white, exposure,points,tones,level')
    expect(all).not.toEqual(plain)
    const { code, err } = shell('develop', frame, '--to', join(folder, 'x.png'), '--auto', 'white,sky')
    expect(code).toBe(2)
    expect(err).toContain('--auto: Some of level, white, exposure, points, tones')
  })

  it('prints the schema of the settings', () => {
    const schema = JSON.parse(shell('schema', 'settings').out)
    expect(schema.properties.steps.properties.exposure.properties.ev).toMatchObject({
      minimum: -5,
      maximum: 5,
    })
  })

  it('develops the very pixels that the engine gives elsewhere', async () => {
    const settings = join(folder, 'settings.json')
    const part = { steps: { exposure: { ev: 0.6 }, baseRendering: { grade: 3 } } }
    writeFileSync(settings, JSON.stringify(part))
    const target = join(folder, 'out.tif')
    const { code, out } = shell(
      'develop',
      frame,
      '--to',
      target,
      '--settings',
      settings,
      '--space',
      'romm',
      '--long-edge',
      '600',
    )
    expect([code, out.trim()]).toEqual([0, target])
    const { data, info } = await sharp(target, { ignoreIcc: true } as object)
      .toColourspace('rgb16')
      .raw({ depth: 'ushort' })
      .toBuffer({ resolveWithObject: true })
    expect([info.width, info.height]).toEqual([600, 400])
    const engine = createEngine(builtEngineFiles())
    const picture = await engine.open(readFileSync(frame))
    const truth = await picture.deliver({
      development: readDevelopment(part),
      space: 'romm',
      width: 600,
      height: 400,
      bits: 16,
    })
    engine.stop()
    expect(Buffer.compare(data, truth)).toBe(0)
  })

  it('mends along places that are written in the settings', async () => {
    const settings = join(folder, 'strokes.json')
    const target = join(folder, 'strokes.png')
    const order = ['develop', frame, '--to', target, '--long-edge', '600', '--settings', settings]
    const stroke = { id: 'a', x: 0, y: 0, shape: 'stroke', kind: 'clone', radius: 0.02, source: [0, 0.25] }
    const written = (path: unknown) =>
      writeFileSync(settings, JSON.stringify({ steps: { patches: { patches: [{ ...stroke, path }] } } }))
    written([
      [0.2, 0.1],
      [0.5, 0.1],
    ])
    expect(shell(...order).code).toBe(0)
    const pixels = (file: string) => sharp(file).raw().toBuffer()
    const plain = join(folder, 'unpatched.png')
    expect(shell('develop', frame, '--to', plain, '--long-edge', '600').code).toBe(0)
    const [with_, without] = [await pixels(target), await pixels(plain)]
    const differs = (x: number, y: number) =>
      [0, 1, 2].some((c) => with_[(y * 600 + x) * 3 + c] !== without[(y * 600 + x) * 3 + c])
    expect([differs(140, 60), differs(290, 60), differs(210, 68)]).toEqual([true, true, true])
    expect([differs(210, 80), differs(320, 60), differs(210, 210)]).toEqual([false, false, false])

    rmSync(target)
    written([[0.2, 'x']])
    expect(shell(...order)).toMatchObject({
      code: 3,
      err: expect.stringMatching(/patches\.0\.path\.0\.1/) as string,
    })
    written(`sha256-${'0'.repeat(64)}`)
    const { code, err } = shell(...order)
    expect(code).toBe(3)
    oneLine(err)
    expect(err).toContain('A path is written as its places, [[x, y], …].')
  })

  it('writes the mask of an area', async () => {
    const settings = join(folder, 'areas.json')
    const stroke = [
      [0.2, 0.2],
      [0.8, 0.2],
    ]
    const shapes = [{ id: 's', kind: 'stroke', radius: 0.05, softness: 0, path: stroke }]
    const areas = [{ id: 'a' }, { id: 'b', mask: { shapes } }]
    writeFileSync(settings, JSON.stringify({ steps: { areas: { areas } } }))
    const to = join(folder, 'mask.png')
    const order = ['mask', frame, '--settings', settings, '--to', to]
    const { code, out } = shell(...order, '--area', '2', '--long-edge', '300')
    expect([code, out]).toEqual([0, `${to}\n`])
    const { width, height, channels, depth } = await sharp(to).metadata()
    expect([width, height, channels, depth]).toEqual([300, 200, 1, 'uchar'])
    const data = await sharp(to).toColourspace('b-w').raw().toBuffer()
    const at = (x: number, y: number) => data[y * 300 + x]
    // 60 lines down, 30 wide, with round ends
    expect([at(150, 60), at(150, 47), at(150, 43), at(47, 60), at(43, 60)]).toEqual([255, 255, 0, 255, 0])
    for (const [wrong, status] of [
      [['--area', '3', '--overwrite'], 2],
      [['--area', '0', '--overwrite'], 2],
      [['--area', '1', '--long-edge', 'x'], 2],
      [[], 2],
      [['--area', '1'], 4],
    ] as const) {
      const { code, err } = shell(...order, ...wrong)
      expect([wrong, code]).toEqual([wrong, status])
      oneLine(err)
    }
    const empty = shell(...order, '--area', '1', '--overwrite')
    expect(empty.code).toBe(0)
    expect((await sharp(to).stats()).channels[0].max).toBe(0)
  })

  it('writes the mask of what it finds, and says where there is nothing', async () => {
    const file = (name: string) => join(root, `packages/demo/frames/${name}.dng`)
    const to = join(folder, 'sky.png')
    const order = ['--to', to, '--long-edge', '300', '--find']
    const { code, out } = shell('mask', file('HM0527'), ...order, 'sky')
    expect([code, out]).toEqual([0, `${to}\n`])
    const data = await sharp(to).toColourspace('b-w').raw().toBuffer()
    const at = (x: number, y: number) => data[y * 300 + x]
    // above the wood; the wood, the tower
    expect([at(250, 10), at(40, 140), at(135, 150)]).toEqual([255, 0, 0])
    for (const [name, words, status, says] of [
      ['HM0431', ['sky', '--overwrite'], 5, 'HM0431.dng: No sky was found.'],
      ['HM0527', ['clouds', '--overwrite'], 2, '--find: One of sky, ground, water, subject, near, far.'],
      ['HM0527', ['sky', '--area', '1', '--overwrite'], 2, 'Use: mask FILE'],
      ['HM0527', ['sky'], 4, 'sky.png'],
    ] as const) {
      const { code, err } = shell('mask', file(name), ...order, ...words)
      expect([words, code]).toEqual([words, status])
      oneLine(err)
      expect(err).toContain(says)
    }
    const near = shell('mask', file('HM0527'), ...order, 'near', '--overwrite')
    expect(near.code).toBe(0)
    const nearness = await sharp(to).toColourspace('b-w').raw().toBuffer()
    const line = (y: number) => nearness.subarray(y * 300, (y + 1) * 300)
    expect([line(10).every((v) => v === 0), line(195).every((v) => v === 255)]).toEqual([true, true])
  })

  it('prints the dust of each file', () => {
    const bad = join(folder, 'dustless.dng')
    writeFileSync(bad, 'no picture')
    const lock = join(root, 'packages/demo/frames/HM0466.dng')
    const { code, out, err } = shell('dust', lock, bad)
    expect(code).toBe(3)
    oneLine(err)
    expect(err).toContain('dustless.dng: ')
    type Listed = { file: string; dust: { x: number; y: number; radius: number; confidence: number }[] }
    const [{ file, dust }, ...others] = JSON.parse(out) as Listed[]
    expect([file, others]).toEqual([lock, []])
    expect(dust.filter((d) => d.confidence >= 0.5)).toHaveLength(4)
    // the camera has a speck there
    expect(dust.some((d) => Math.hypot(d.x - 1013.3 / 2256, d.y - 406.8 / 2256) < 0.001)).toBe(true)
    expect(shell('dust').code).toBe(2)
  })

  it('develops several into a folder, goes on after a bad one, and reports it', () => {
    const to = join(folder, 'many')
    mkdirSync(to)
    const bad = join(folder, 'bad.dng')
    writeFileSync(bad, 'no picture')
    const { code, out, err } = shell('develop', bad, frame, '--to', to, '--long-edge', '64')
    expect(code).toBe(3)
    oneLine(err)
    expect(err).toMatch(/bad\.dng: This is neither a raw file nor a picture/)
    expect(out.trim()).toBe(join(to, 'HM0417.jpg'))
    expect(readdirSync(to)).toEqual(['HM0417.jpg'])
  })

  it.each([
    [2, []],
    [2, ['paint', frame]],
    [2, ['info']],
    [2, ['develop', frame]],
    [2, ['develop', frame, '--to', '/tmp/x.jpg', '--bits', '16']],
    [2, ['develop', frame, '--to', '/tmp/x.jpg', '--quality', 'best']],
    [2, ['develop', frame, '--to', '/tmp/x.jpg', '--speed', '9']],
    [2, ['develop', frame, '--to', '/tmp/x.jpg', '--format', 'gif']],
    [2, ['develop', frame, frame, '--to', '/tmp/x.jpg']],
    [2, ['schema', 'everything']],
    [3, ['info', '/nowhere/at-all.dng']],
    [3, ['develop', '/nowhere/at-all.dng', '--to', '/tmp/x.jpg']],
    [4, ['develop', frame, '--to', '/nowhere/at-all/x.jpg', '--long-edge', '32']],
  ] as const)('ends with %i for %j', (code, args) => {
    const result = shell(...args)
    expect(result.code).toBe(code)
    oneLine(result.err)
    expect(result.err).not.toMatch(/\n\s+at /)
    expect(result.out).toBe('')
  })

  it('prints nothing but its result, whatever the libraries that decode files print', () => {
    // those for these kinds print what they cannot read
    const broken = (['heic', 'avif', 'webp', 'raw'] as const).map((kind) => {
      const file = join(folder, `broken.${kind}`)
      writeFileSync(file, Buffer.concat([Buffer.from(HEADS[kind], 'latin1'), Buffer.alloc(6000, 7)]))
      return file
    })
    const { code, out, err } = shell('info', ...broken, frame)
    expect(code).toBe(3)
    expect(JSON.parse(out)).toMatchObject([{ file: frame }])
    const lines = err.trim().split('\n')
    expect(lines).toHaveLength(4)
    for (const line of lines) oneLine(line)
    const developed = shell('develop', ...broken, '--to', folder)
    expect([developed.code, developed.out]).toEqual([3, ''])
  })

  it('overwrites nothing unasked', () => {
    const target = join(folder, 'kept.jpg')
    writeFileSync(target, 'kept')
    expect(shell('develop', frame, '--to', target, '--long-edge', '32').code).toBe(4)
    expect(readFileSync(target, 'utf8')).toBe('kept')
    expect(shell('develop', frame, '--to', target, '--long-edge', '32', '--overwrite').code).toBe(0)
    expect(readFileSync(target).subarray(0, 2)).toEqual(Buffer.from([0xff, 0xd8]))
    expect(existsSync(join(folder, 'kept (2).jpg'))).toBe(false)
  })
})
