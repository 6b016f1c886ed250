import { projectRoot } from '@dunkelkammer/engine/node'
import { existsSync } from 'node:fs'
import { homedir } from 'node:os'
import { delimiter, join } from 'node:path'
import { createApp } from './http/app'
import { openServices } from './services'

const project = projectRoot()
const { DUNKELKAMMER_LIBRARY, DUNKELKAMMER_ROOTS, DUNKELKAMMER_PORT } = process.env
const library = DUNKELKAMMER_LIBRARY ?? join(project, 'library')
const roots = DUNKELKAMMER_ROOTS ? DUNKELKAMMER_ROOTS.split(delimiter) : [homedir()]
const port = Number(DUNKELKAMMER_PORT ?? 4717)
const webFolder = join(project, 'dist/web')

const services = openServices({
  library,
  roots,
  project,
  webFolder: existsSync(webFolder) ? webFolder : undefined,
})
const server = createApp(services).listen(port, '127.0.0.1', (error?: Error) => {
  if (error) {
    const taken = (error as NodeJS.ErrnoException).code === 'EADDRINUSE'
    console.error(
      taken
        ? `Port ${port} is in use. Set DUNKELKAMMER_PORT to another one.`
        : `The server cannot start: ${error.message}`,
    )
    process.exit(1)
  }
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
  await services.close()
  process.exit(0)
}
process.on('SIGINT', () => void stop())
process.on('SIGTERM', () => void stop())
