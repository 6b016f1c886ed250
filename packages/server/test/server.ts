import { projectRoot } from '@dunkelkammer/engine/node'
import { spawn, type ChildProcess } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

export const root = projectRoot()
export const demoFile = join(root, 'packages/demo/frames/HM0417.dng')
export const demoBytes = () => readFileSync(demoFile)

/** A folder for one test, and how to remove it. */
export function temporary(): { path: string; remove(): void } {
  const path = mkdtempSync(join(tmpdir(), 'dunkelkammer-'))
  return { path, remove: () => rmSync(path, { recursive: true, force: true }) }
}

/** The real server as a process of its own, which can be killed. */
export interface TestServer {
  url: string
  process: ChildProcess
  /** JSON answer and status. */
  ask(path: string, init?: RequestInit): Promise<{ status: number; body: never }>
  send(method: string, path: string, body: unknown): Promise<{ status: number; body: never }>
  kill(): Promise<void>
}

export async function startServer(library: string, roots: readonly string[] = []): Promise<TestServer> {
  const child = spawn(process.execPath, [join(root, 'dist/node/server.js')], {
    env: {
      ...process.env,
      DUNKELKAMMER_LIBRARY: library,
      DUNKELKAMMER_PORT: '0',
      DUNKELKAMMER_ROOTS: roots.join(':') || library,
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  const url = await new Promise<string>((found, fail) => {
    let text = ''
    child.stdout!.on('data', (chunk: Buffer) => {
      text += chunk.toString()
      const match = text.match(/http:\/\/\S+/)
      if (match) found(match[0])
    })
    child.on('exit', (code) => fail(new Error(`the server ended with ${code}`)))
  })
  const ask = async (path: string, init?: RequestInit) => {
    const response = await fetch(url + path, init)
    const text = await response.text()
    return {
      status: response.status,
      body: (text.startsWith('{') || text.startsWith('[') ? JSON.parse(text) : text) as never,
    }
  }
  return {
    url,
    process: child,
    ask,
    send: (method, path, body) =>
      ask(path, { method, headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
    kill: () =>
      new Promise((done) => {
        if (child.exitCode !== null || child.signalCode !== null) return done()
        child.on('exit', () => done())
        child.kill('SIGKILL')
      }),
  }
}

/** Looks again and again until something holds. */
export async function until<T>(look: () => Promise<T | undefined | false>): Promise<T> {
  for (let i = 0; i < 600; i++) {
    const found = await look()
    if (found) return found
    await new Promise((r) => setTimeout(r, 50))
  }
  throw new Error('it never came to that')
}
