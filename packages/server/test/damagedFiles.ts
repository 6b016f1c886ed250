import { writeDng } from '@dunkelkammer/demo'
import { spawn } from 'node:child_process'
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import sharp from 'sharp'
import { random } from '../../core/test/bench'
import { contents } from '../../core/test/files'
import { root, startServer, temporary } from './server'

/** Small sound files of every kind, to be damaged. */
async function seeds(): Promise<Map<string, Uint8Array>> {
  const picture = () => sharp({ create: { width: 90, height: 60, channels: 3, background: '#a86' } })
  const raw = Buffer.concat([Buffer.from('FUJIFILMCCD-RAW 0201FF129502'), Buffer.alloc(9000, 3)])
  return new Map<string, Uint8Array>([
    ['a.dng', writeDng(contents())],
    ['b.dng', writeDng(contents({ compression: 'deflate', bits: 16, predictor: 2, bigEndian: true }))],
    ['c.dng', writeDng(contents({ compression: 'none', tile: undefined }))],
    ['a.jpg', await picture().withMetadata({ orientation: 6 }).jpeg().toBuffer()],
    ['b.jpg', await picture().jpeg({ progressive: true }).toBuffer()],
    ['a.png', await picture().png().toBuffer()],
    ['a.tif', await picture().tiff({ compression: 'lzw' }).toBuffer()],
    [
      'b.tif',
      await picture().tiff({ compression: 'deflate', tile: true, tileWidth: 16, tileHeight: 16 }).toBuffer(),
    ],
    ['a.webp', await picture().webp().toBuffer()],
    ['a.avif', await picture().avif({ effort: 0 }).toBuffer()],
    ['a.heic', readFileSync(join(root, 'packages/engine/test/files/ramp.heic'))],
    ['a.raf', raw],
  ])
}

/** A file with some bytes changed, runs filled, parts cut off or doubled. */
export function damaged(bytes: Uint8Array, seed: number): Uint8Array {
  const next = random(seed)
  const at = (n: number) => Math.floor(next() * n)
  let out = Uint8Array.from(bytes)
  // headers are small and decide most
  const place = () => (next() < 0.6 ? at(Math.min(out.length, 700)) : at(out.length))
  for (let i = 0, n = 1 + at(6); i < n; i++) {
    const kind = next()
    if (kind < 0.5) out[place()] = at(256)
    else if (kind < 0.65) out[place()] = [0, 0xff, 0x7f, 0x80][at(4)]
    else if (kind < 0.8) {
      const from = place()
      out.fill(at(2) * 255, from, from + 1 + at(40))
    } else if (kind < 0.9 && out.length > 40) out = out.slice(0, 20 + at(out.length - 20))
    else {
      const from = place()
      out = Uint8Array.from([
        ...out.subarray(0, from),
        ...out.subarray(from, from + at(400)),
        ...out.subarray(from),
      ])
    }
  }
  return out
}

const residentMb = (pid: number) =>
  Number(readFileSync(`/proc/${pid}/status`, 'utf8').match(/VmRSS:\s+(\d+)/)![1]) / 1024

export interface DamagedOutcome {
  files: number
  taken: number
  refused: number
  largestMb: number
  slowestMs: number
}

/**
 * Sends damaged files of every kind to a server, looks at what it took, and gives them to the shell.
 * @throws Error with the seed where something crashes, hangs, is not answered in a sentence, or grows too much
 */
export async function feedDamaged(count: number, first: number, mostMb = 600): Promise<DamagedOutcome> {
  const place = temporary()
  const server = await startServer(place.path, { thumbnails: true })
  const shoot = await server.newShoot()
  const kinds = [...(await seeds())]
  const out = { files: count, taken: 0, refused: 0, largestMb: 0, slowestMs: 0 }
  const fail = (seed: number, what: string): never => {
    throw new Error(`seed ${seed} (${kinds[seed % kinds.length][0]}): ${what}`)
  }
  const shellFiles: string[] = []
  for (let seed = first; seed < first + count; seed++) {
    const [name, sound] = kinds[seed % kinds.length]
    const bytes = damaged(sound, seed)
    const since = performance.now()
    const { status, body } = await server.upload(shoot.id, `${seed} ${name}`, bytes)
    if (status === 201) {
      out.taken++
      for (const part of ['thumbnail', 'preview', 'original']) {
        const answer = await fetch(`${server.url}/api/frames/${body.frame.id}/${part}`)
        await answer.arrayBuffer()
        if (answer.status >= 500) fail(seed, `its ${part} was answered with ${answer.status}`)
      }
    } else {
      out.refused++
      if (status < 400 || status >= 500 || !/^[A-Z][^\n]*\.$/.test(body.message))
        fail(seed, `it was answered with ${status}: ${body.message}`)
    }
    out.slowestMs = Math.max(out.slowestMs, performance.now() - since)
    const mb = residentMb(server.process.pid!)
    out.largestMb = Math.max(out.largestMb, mb)
    if (mb > mostMb) fail(seed, `the server has grown to ${Math.round(mb)} MB`)
    if (seed % 5 === 0) {
      shellFiles.push(join(place.path, `${seed} ${name}`))
      writeFileSync(shellFiles.at(-1)!, bytes)
    }
  }
  if (server.said.text) throw new Error(`the server said: ${server.said.text.slice(0, 500)}`)
  await server.stop()
  // some at a time: the shell starts an engine for each call
  for (let i = 0; i < shellFiles.length; i += 40) {
    const { code, out: said, err } = await shell(['info', ...shellFiles.slice(i, i + 40)])
    if (code !== 0 && code !== 3) throw new Error(`the shell ended with ${code}: ${err.slice(0, 500)}`)
    if (said) JSON.parse(said)
    for (const line of err.trim().split('\n').filter(Boolean))
      if (!/: [A-Z][^\n]*\.$/.test(line)) throw new Error(`the shell said: ${line}`)
  }
  place.remove()
  return out
}

function shell(args: string[]): Promise<{ code: number | null; out: string; err: string }> {
  return new Promise((done) => {
    const child = spawn(process.execPath, [join(root, 'dist/node/cli.js'), ...args], { timeout: 120000 })
    const text = { out: '', err: '' }
    child.stdout.on('data', (chunk: Buffer) => (text.out += chunk.toString()))
    child.stderr.on('data', (chunk: Buffer) => (text.err += chunk.toString()))
    child.on('close', (code) => done({ code, ...text }))
  })
}
