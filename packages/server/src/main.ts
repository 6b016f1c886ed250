import { projectRoot } from '@dunkelkammer/engine/node'
import { existsSync } from 'node:fs'
import { createServer, type RequestListener } from 'node:http'
import { homedir } from 'node:os'
import { delimiter, join, resolve } from 'node:path'
import { createApp } from './http/app'
import { isDiskFull, StartProblem, toProblem } from './problem'
import { openServices, type Services } from './services'

const project = projectRoot()
const env = process.env
const port = Number(env.DUNKELKAMMER_PORT ?? 4717)
const webFolder = join(project, 'dist/web')
const number = (text: string | undefined) => (text === undefined ? undefined : Number(text))

function give(message: string): never {
  console.error(message)
  process.exit(1)
}

let answer: RequestListener = (_request, response) => {
  const body = { code: 'starting', message: 'The server is starting. Try again in a moment.' }
  response
    .writeHead(503, { 'Content-Type': 'application/json', 'Retry-After': '1' })
    .end(JSON.stringify(body))
}
// large files may take long; bodies that stop coming are ended by the application
// longer than those who ask keep theirs, or a connection ends just as it is used again
const KEEP_ALIVE_MS = 75000
const server = createServer({ requestTimeout: 0, keepAliveTimeout: KEEP_ALIVE_MS }, (request, response) =>
  answer(request, response),
)
let services: Services | undefined

server.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code === 'EADDRINUSE') give(`Port ${port} is in use. Set DUNKELKAMMER_PORT to another one.`)
  give(`The server cannot start: ${error.message}.`)
})
// the port first: a second server that is started by mistake ends here and has touched nothing
server.listen(port, '127.0.0.1', () => {
  try {
    services = openServices({
      library: resolve(env.DUNKELKAMMER_LIBRARY ?? join(project, 'library')),
      roots: env.DUNKELKAMMER_ROOTS ? env.DUNKELKAMMER_ROOTS.split(delimiter) : [homedir()],
      project,
      webFolder: existsSync(webFolder) ? webFolder : undefined,
      quietMs: number(env.DUNKELKAMMER_QUIET_MS),
      niceness: number(env.DUNKELKAMMER_NICENESS),
      programs: env.DUNKELKAMMER_PROGRAMS,
      returnsMs: number(env.DUNKELKAMMER_RETURNS_MS),
      stalledMs: number(env.DUNKELKAMMER_STALLED_MS),
    })
  } catch (error) {
    if (error instanceof StartProblem) give(error.message)
    const { code, message } = toProblem(error)
    give(`The server cannot start: ${code === 'failed' ? (error as Error).message : message}`)
  }
  answer = createApp(services) as unknown as RequestListener
  const address = server.address()
  const actual = typeof address === 'object' && address ? address.port : port
  console.log(`Dunkelkammer is at http://127.0.0.1:${actual}`)
})

let stopping = false
async function stop(): Promise<void> {
  if (stopping) process.exit(1)
  stopping = true
  server.close()
  server.closeAllConnections()
  await services?.close()
  process.exit(0)
}
process.on('SIGINT', () => void stop())
process.on('SIGTERM', () => void stop())
// what was acknowledged is on the disk; a full one must not end the server
process.on('unhandledRejection', (error) => {
  console.error(error)
  if (!isDiskFull(error)) process.exit(1)
})
