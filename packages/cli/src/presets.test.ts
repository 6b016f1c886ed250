import { presetFile, PRESET_KIND, SHIPPED_PRESETS, type Preset } from '@dunkelkammer/core'
import { projectRoot } from '@dunkelkammer/engine/node'
import { spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import sharp from 'sharp'
import { afterAll, expect, it } from 'vitest'
import { burstFile, chartDistance, chartIn, type BurstShot } from '../../engine/test/burst'

const root = projectRoot()
const frame = join(root, 'packages/demo/frames/HM0417.dng')
const folder = mkdtempSync(join(tmpdir(), 'dunkelkammer-presets-'))
afterAll(() => rmSync(folder, { recursive: true }))

function shell(...args: string[]) {
  const { status, stdout, stderr } = spawnSync(
    process.execPath,
    [join(root, 'packages/cli/bin/dunkelkammer.mjs'), ...args],
    { encoding: 'utf8' },
  )
  return { code: status, out: stdout, err: stderr }
}
const write = (name: string, value: unknown) => {
  const path = join(folder, name)
  writeFileSync(path, typeof value === 'string' ? value : JSON.stringify(value))
  return path
}
/** The file that comes of a frame. */
function delivered(name: string, ...args: string[]) {
  const to = join(folder, `${name}.png`)
  const { code, err } = shell('develop', frame, '--to', to, '--long-edge', '200', ...args)
  return { code, err, bytes: code === 0 ? readFileSync(to) : undefined }
}
const same = (a?: Buffer, b?: Buffer) => a !== undefined && b !== undefined && a.equals(b)
const shipped = (id: string): Preset => SHIPPED_PRESETS.find((p) => p.id === id)!
const preset = (more: object) => ({ kind: PRESET_KIND, format: 1, name: 'Mine', ...more })

it('applies presets in their order, each at its strength, says what is not known, and does the rest', () => {
  const grain = { grain: { strength: 0.3 } }
  const hard = preset({ format: 3, steps: { baseRendering: { grade: 4 }, ...grain, shimmer: { amount: 1 } } })
  const grade = write('grade.json', hard)
  const softer = write('softer.json', preset({ steps: { baseRendering: { grade: 1 } } }))
  const wanted = (name: string, at: number) =>
    delivered(
      name,
      '--settings',
      write(`${name}.json`, { steps: { baseRendering: { grade: at }, ...grain }, strength: { grain: 0.5 } }),
    )
  const both = delivered('both', '--preset', grade, '--strength', '50', '--preset', softer)
  expect(both.code).toBe(0)
  expect(both.err).toMatch(/newer Dunkelkammer[^]*shimmer/)
  expect(same(both.bytes, wanted('first', 1).bytes)).toBe(true)
  const turned = delivered('turned', '--preset', softer, '--preset', grade, '--strength', '50')
  expect(same(turned.bytes, wanted('last', 2.5).bytes)).toBe(true)
  expect(same(turned.bytes, both.bytes)).toBe(false)
})

it('finds in each picture what a preset leaves to it', () => {
  const found = write('tone.json', presetFile(shipped('auto-tone')))
  const automatic = delivered('automatic', '--auto', 'exposure,points,tones')
  expect(same(delivered('found', '--preset', found).bytes, automatic.bytes)).toBe(true)
})

it.each([
  ['no preset', ['--preset', 'settings'], 3],
  ['no JSON', ['--preset', 'broken'], 3],
  ['a number out of range', ['--preset', 'range'], 3],
  ['no such file', ['--preset', 'nothing'], 3],
  ['a strength that is none', ['--preset', 'range', '--strength', 'much'], 2],
  ['a strength without a preset', ['--strength', '50'], 2],
])('refuses %s with a sentence, and writes nothing', (_, args, code) => {
  write('settings', { steps: { exposure: { ev: 1 } } })
  write('broken', '{')
  write('range', preset({ steps: { grain: { strength: 7 } } }))
  const result = delivered(
    'refused',
    ...args.map((a) => (/^(settings|broken|range|nothing)$/.test(a) ? join(folder, a) : a)),
  )
  expect(result.code).toBe(code)
  expect(result.err.trim()).toMatch(/^[^\n]+\.$/)
  expect(existsSync(join(folder, 'refused.png'))).toBe(false)
})

it('prints the schema of a preset', () => {
  const { code, out } = shell('schema', 'preset')
  expect(code).toBe(0)
  expect(JSON.parse(out)).toMatchObject({ type: 'object', properties: { kind: { const: PRESET_KIND } } })
  expect(shell('schema', 'look').code).toBe(2)
})

it('matches exposure and white of files to another one', async () => {
  const shots: BurstShot[] = [
    { ev: 0, takenFor: 5500 },
    { ev: -1.8, takenFor: 4200, seed: 2 },
  ]
  const [first, second] = shots.map((shot, i) => {
    const path = join(folder, `shot${i}.dng`)
    writeFileSync(path, burstFile(shot))
    return path
  })
  const settings = write('brighter.json', { steps: { exposure: { ev: 0.4 } } })
  const chartOf = async (file: string, shot: BurstShot, ...args: string[]) => {
    const to = join(folder, `${args.length}${file.at(-5)}.tiff`)
    expect(shell('develop', file, '--to', to, '--bits', '16', '--settings', settings, ...args).code).toBe(0)
    const { data, info } = await sharp(to)
      .toColourspace('rgb16')
      .raw({ depth: 'ushort' })
      .toBuffer({ resolveWithObject: true })
    return chartIn(new Uint16Array(data.buffer, data.byteOffset, data.length / 2), info.width, 65535, shot)
  }
  const chart = await chartOf(first, shots[0])
  expect(chartDistance(await chartOf(second, shots[1]), chart)).toBeGreaterThan(10)
  expect(chartDistance(await chartOf(second, shots[1], '--match', first), chart)).toBeLessThan(1.5)
  const missing = shell(
    'develop',
    second,
    '--to',
    join(folder, 'no.png'),
    '--match',
    join(folder, 'none.dng'),
  )
  expect(missing.code).not.toBe(0)
  expect(missing.err).toMatch(/none\.dng/)
  expect(missing.err).not.toMatch(/\n\s+at /)
})
