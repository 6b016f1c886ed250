import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { basename, extname, join } from 'node:path'
import sharp from 'sharp'
import { projectRoot } from '../src/paths'

/** What is expected of a file, as its maker has written it down. */
interface Expected {
  name: string
  space: string
  bits: 8 | 16
  expect: 'open' | 'refused'
  ordinary: boolean
  size: [number, number] | null
  /** dB; without it, the same numbers of 8 bits or 80 dB of 16. */
  least: number | null
  /** A word that the refusal must have. */
  says: string | null
}

type Verdict = 'right' | 'silently wrong' | 'refused although ordinary' | 'refused' | 'said badly'

interface Judged {
  name: string
  verdict: Verdict
  detail: string
}

const root = projectRoot()

/** The same script's folder each time; made anew, since the writers may have changed. */
function makeCorpus(python: string): string {
  const folder = join(root, '.cache/elsewhere')
  rmSync(folder, { recursive: true, force: true })
  mkdirSync(folder, { recursive: true })
  const script = join(root, 'packages/engine/bench/elsewhere/make.py')
  const made = spawnSync(python, [script, folder], { stdio: ['ignore', 'inherit', 'inherit'] })
  if (made.status !== 0) throw new Error('the files could not be made; make.py says what it wants')
  return folder
}

/** The files of one space through the shell, as 16-bit TIFF. @returns what the shell said, by file */
function deliver(folder: string, files: readonly Expected[], space: string, to: string): Map<string, string> {
  const said = new Map<string, string>()
  for (let i = 0; i < files.length; i += 40) {
    const names = files.slice(i, i + 40).map(({ name }) => join(folder, name))
    const words = [
      'develop',
      ...names,
      '--to',
      `${to}/`,
      '--format',
      'tiff',
      '--bits',
      '16',
      '--space',
      space,
    ]
    const cli = join(root, 'packages/cli/bin/dunkelkammer.mjs')
    const { stderr } = spawnSync(process.execPath, [cli, ...words], { encoding: 'utf8' })
    for (const line of stderr.split('\n'))
      for (const name of names)
        if (line.includes(name)) said.set(basename(name), line.slice(line.indexOf(name) + name.length + 2))
  }
  return said
}

async function judge(
  folder: string,
  to: string,
  file: Expected,
  said: string | undefined,
): Promise<[Verdict, string]> {
  const result = join(to, `${basename(file.name, extname(file.name))}.tif`)
  if (!existsSync(result)) {
    if (!said) return ['said badly', 'nothing']
    if (file.expect === 'open') return [file.ordinary ? 'refused although ordinary' : 'refused', said]
    return file.says && !said.includes(file.says) ? ['said badly', said] : ['right', said]
  }
  if (file.expect === 'refused') return ['silently wrong', 'opened']
  const { data, info } = await sharp(result, { ignoreIcc: true })
    .toColourspace('rgb16')
    .raw({ depth: 'ushort' })
    .toBuffer({ resolveWithObject: true })
  const [width, height] = file.size!
  if (info.width !== width || info.height !== height)
    return ['silently wrong', `${info.width} x ${info.height} for ${width} x ${height}`]
  const got = new Uint16Array(data.buffer, data.byteOffset, data.length / 2)
  const bytes = readFileSync(join(folder, `${file.name}.truth`))
  const want = new Uint16Array(bytes.buffer, bytes.byteOffset, bytes.length / 2)
  let squares = 0
  let levels = 0
  for (let i = 0; i < want.length; i++) {
    squares += (got[i] - want[i]) ** 2
    levels = Math.max(levels, Math.abs(Math.round(got[i] / 257) - Math.round(want[i] / 257)))
  }
  const dB = 10 * Math.log10(65535 ** 2 / Math.max(squares / want.length, 1e-9))
  const detail = `${dB.toFixed(1)} dB, ${levels} of 255 off at most`
  const right = file.least !== null ? dB >= file.least : file.bits === 8 ? levels === 0 : dB >= 80
  return [right ? 'right' : 'silently wrong', detail]
}

/**
 * How many files of other writers come out as they should, through the shell; a Markdown table.
 * @param python an interpreter that has what `elsewhere/make.py` wants
 * @param listed whether every file is listed, else those alone that are not right
 */
export async function elsewhereTable(python: string, listed: boolean): Promise<string> {
  const folder = makeCorpus(python)
  const to = join(folder, 'delivered')
  mkdirSync(to)
  const files = JSON.parse(readFileSync(join(folder, 'corpus.json'), 'utf8')) as Expected[]
  const judged: Judged[] = []
  for (const space of new Set(files.map((f) => f.space))) {
    const those = files.filter((f) => f.space === space)
    const said = deliver(folder, those, space, to)
    for (const file of those) {
      const [verdict, detail] = await judge(folder, to, file, said.get(file.name))
      judged.push({ name: file.name, verdict, detail })
    }
  }
  const count = (verdict: Verdict) => judged.filter((j) => j.verdict === verdict).length
  const ordinary = files.filter((f) => f.ordinary && f.expect === 'open').length
  const share = ((100 * count('refused although ordinary')) / ordinary).toFixed(1)
  const rows = judged.filter((j) => listed || j.verdict !== 'right')
  return [
    '| file | | |',
    '|---|---|---|',
    ...rows.map((j) => `| ${j.name} | ${j.verdict} | ${j.detail} |`),
    '',
    `${files.length} files: ${count('right')} right, ${count('silently wrong')} silently wrong, ` +
      `${count('said badly')} badly said, ${count('refused although ordinary')} of ${ordinary} ordinary ones refused (${share} %), ` +
      `${count('refused')} others refused`,
  ].join('\n')
}
