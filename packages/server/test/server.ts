import type { Append, Appended, FramePage, Job, Shoot, ShootPage, Version } from '@dunkelkammer/contract'
import { partOf, type DeliveryInput } from '@dunkelkammer/core'
import { projectRoot } from '@dunkelkammer/engine/node'
import { spawn, type ChildProcess } from 'node:child_process'
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { request, type IncomingHttpHeaders } from 'node:http'
import { tmpdir } from 'node:os'
import { dirname, join, relative } from 'node:path'

export const root = projectRoot()
export const demoFile = join(root, 'packages/demo/frames/HM0417.dng')
export const demoBytes = () => readFileSync(demoFile)

/** What a page sends where it sets the exposure of a version. */
export function exposing(version: Version, ev: number, part: { label?: string } = {}): Append {
  const { head, development } = version
  const before = partOf(development, 'exposure')
  const change = { part: 'exposure' as const, before, now: { settings: { ev } } }
  const words = { label: 'Exposure', time: new Date().toISOString() }
  const id = crypto.randomUUID()
  return {
    base: head,
    operations: [{ kind: 'change', id, parent: head, changes: [change], ...words, ...part }],
  }
}

/** What asks for a file of a frame. */
export const fileOf = (id: string, delivery: Partial<DeliveryInput>) => ({
  frames: [{ id }],
  deliveries: [delivery],
})

let copies = 0
/** A small frame that no other test has: bytes behind a DNG's end belong to nobody. */
export const another = (): Buffer =>
  Buffer.concat([
    readFileSync(join(root, 'packages/demo/frames/HM0403.dng')),
    Buffer.from(`copy ${process.pid} ${++copies}`),
  ])

/** A folder for one test, and how to remove it. */
export function temporary(name = 'dunkelkammer-'): { path: string; remove(): void } {
  const path = mkdtempSync(join(tmpdir(), name))
  return { path, remove: () => rmSync(path, { recursive: true, force: true }) }
}

/** Files below a folder, each as its path from there, in order. */
export function filesIn(path: string, from = path): string[] {
  if (!existsSync(path)) return []
  const entries = readdirSync(path, { withFileTypes: true })
  return entries
    .flatMap((e) =>
      e.isDirectory() ? filesIn(join(path, e.name), from) : [relative(from, join(path, e.name))],
    )
    .sort()
}

/** Writes files into a folder, with the folders above them. */
export function put(folder: string, files: Record<string, Uint8Array | string>): string {
  for (const [name, bytes] of Object.entries(files)) {
    mkdirSync(dirname(join(folder, name)), { recursive: true })
    writeFileSync(join(folder, name), bytes)
  }
  return folder
}

interface Answer<T> {
  status: number
  body: T
}
type Uploaded = {
  frame: { id: string; fileName: string }
  known: boolean
  restored: boolean
  message: string
}

/** The real server as a process of its own, which can be killed. */
export class TestServer {
  constructor(
    readonly url: string,
    readonly process: ChildProcess,
    /** What it says of failures. */
    readonly said: { text: string },
  ) {}

  /** JSON answer and status. */
  async ask<T = never>(path: string, init?: RequestInit): Promise<Answer<T>> {
    const response = await fetch(this.url + path, init)
    const text = await response.text()
    return {
      status: response.status,
      body: (text.startsWith('{') || text.startsWith('[') ? JSON.parse(text) : text) as T,
    }
  }

  send<T = never>(method: string, path: string, body: unknown): Promise<Answer<T>> {
    return this.ask(path, {
      method,
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    })
  }

  /** What `fetch` would not send: any headers, a path as it is written. */
  raw(
    path: string,
    options: { method?: string; headers?: Record<string, string>; body?: Uint8Array | string } = {},
  ): Promise<{ status: number; text: string; headers: IncomingHttpHeaders }> {
    const { hostname, port } = new URL(this.url)
    const { method = 'GET', headers = {}, body } = options
    return new Promise((done, fail) => {
      const asked = request({ hostname, port, path, method, headers }, (response) => {
        let text = ''
        response.on('data', (chunk: Buffer) => (text += chunk.toString()))
        response.on('end', () => done({ status: response.statusCode!, text, headers: response.headers }))
      })
      asked.on('error', fail)
      asked.end(body)
    })
  }

  async newShoot(part: object = {}): Promise<Shoot> {
    return (await this.send<Shoot>('POST', '/api/shoots', { name: 'Test', ...part })).body
  }

  upload(shootId: string, name: string, bytes: Uint8Array, more = ''): Promise<Answer<Uploaded>> {
    return this.ask(`/api/shoots/${shootId}/frames?name=${encodeURIComponent(name)}${more}`, {
      method: 'POST',
      body: bytes as never,
    })
  }

  /** The id of a frame that is brought in. */
  async frame(shootId: string, name: string, bytes: Uint8Array = another()): Promise<string> {
    const { status, body } = await this.upload(shootId, name, bytes)
    if (status !== 201) throw new Error(`${name} was refused: ${body.message}`)
    return body.frame.id
  }

  async page(shootId: string): Promise<ShootPage> {
    return (await this.ask<ShootPage>(`/api/shoots/${shootId}`)).body
  }

  async version(frameId: string): Promise<Version> {
    return (await this.ask<FramePage>(`/api/frames/${frameId}`)).body.versions[0]
  }

  /** Sets the exposure of a version as it stands. */
  expose(version: Version, ev: number): Promise<Answer<Appended & { code: string; message: string }>> {
    return this.append(version, exposing(version, ev))
  }

  append(version: Version, append: unknown): Promise<Answer<Appended & { code: string; message: string }>> {
    return this.send('POST', `/api/versions/${version.id}/log`, append)
  }

  drop(ids: readonly string[]): Promise<Answer<unknown>> {
    return this.send('PATCH', '/api/frames', { changes: [{ ids, mark: 'drop' }] })
  }

  async job(method: string, path: string, body: unknown): Promise<Job> {
    const { status, body: job } = await this.send<Job & { job?: Job; message: string }>(method, path, body)
    if (status !== 202) throw new Error(`the job was refused: ${job.message}`)
    return this.ended((job.job ?? job).id)
  }

  /** Makes a file of a frame. */
  deliver(id: string, delivery: Partial<DeliveryInput>): Promise<Job> {
    return this.job('POST', '/api/files', fileOf(id, delivery))
  }

  importFolder(shootId: string, path: string, part: object = {}): Promise<Job> {
    return this.job('POST', `/api/shoots/${shootId}/import`, { path, ...part })
  }

  ended(id: string): Promise<Job> {
    return until(async () => {
      const { body } = await this.ask<Job>(`/api/jobs/${id}`)
      return body.state !== 'waiting' && body.state !== 'running' && body
    })
  }

  /** Its end, as any program ends. */
  stop(): Promise<number | null> {
    return this.end('SIGTERM')
  }

  async kill(): Promise<void> {
    await this.end('SIGKILL')
  }

  private end(signal: 'SIGTERM' | 'SIGKILL'): Promise<number | null> {
    return new Promise((done) => {
      const { exitCode, signalCode } = this.process
      if (exitCode !== null || signalCode !== null) return done(exitCode)
      this.process.on('exit', (code) => done(code))
      this.process.kill(signal)
    })
  }
}

export interface ServerOptions {
  roots?: readonly string[]
  env?: Record<string, string>
  /** Develops thumbnails soon. Left out, never: they would take the time of the tests. */
  thumbnails?: boolean
  /** Gives the library a disk of its own, so large and no larger. */
  diskMb?: number
  /** Has the library's disk read only. */
  readOnly?: boolean
  /** Takes away what root may and others may not: permissions of files hold for it. */
  powerless?: boolean
}

/** Where a server whose library has a disk of its own has it, as seen from here. */
export const inside = (server: TestServer, path: string): string => `/proc/${server.process.pid}/root${path}`

/** Starts a server. @throws what it says where it ends instead */
export async function startServer(library: string, options: ServerOptions = {}): Promise<TestServer> {
  const { roots = [library], env = {}, thumbnails, diskMb, readOnly, powerless } = options
  const program = [process.execPath, join(root, 'dist/node/server.js')]
  const at = '"$DUNKELKAMMER_LIBRARY"'
  const mount =
    (diskMb && `mount -t tmpfs -o size=${diskMb}m tmpfs ${at}`) ||
    (readOnly && `mount --bind ${at} ${at} && mount -o remount,bind,ro ${at}`)
  const [command, ...args] = mount
    ? ['unshare', '-rm', 'sh', '-c', `${mount} && exec "$@"`, 'sh', ...program]
    : [...(powerless ? ['setpriv', '--bounding-set=-all', '--inh-caps=-all'] : []), ...program]
  const child = spawn(command, args, {
    env: {
      ...process.env,
      DUNKELKAMMER_LIBRARY: library,
      DUNKELKAMMER_PORT: '0',
      DUNKELKAMMER_ROOTS: roots.join(':'),
      // beside other tests it would otherwise hardly get on
      DUNKELKAMMER_NICENESS: '0',
      DUNKELKAMMER_QUIET_MS: thumbnails ? '400' : '3600000',
      ...env,
    },
    stdio: ['ignore', 'pipe', 'pipe'],
  })
  const said = { text: '' }
  child.stderr!.on('data', (chunk: Buffer) => (said.text += chunk.toString()))
  const url = await new Promise<string>((found, fail) => {
    let text = ''
    child.stdout!.on('data', (chunk: Buffer) => {
      text += chunk.toString()
      const match = text.match(/http:\/\/\S+/)
      if (match) found(match[0])
    })
    child.on('close', (code) => fail(new Error(`${code}: ${said.text.trim()}`)))
  })
  return new TestServer(url, child, said)
}

/** Numbers from 0 to 1 that look random and are the same for a seed. */
export function randomFrom(seed: number): () => number {
  let state = seed
  return () => (state = (state * 1664525 + 1013904223) % 2 ** 32) / 2 ** 32
}

/** Looks again and again until something holds. */
export async function until<T>(look: () => Promise<T | undefined | false>): Promise<T> {
  for (let i = 0; i < 2000; i++) {
    const found = await look()
    if (found) return found
    await new Promise((r) => setTimeout(r, 25))
  }
  throw new Error('it never came to that')
}
