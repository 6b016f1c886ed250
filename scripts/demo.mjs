/** `npm run demo`: installs and builds what is missing, fills the library with the demo shoot, serves it. */
import { spawn } from 'node:child_process'
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs'
import { homedir, tmpdir } from 'node:os'
import { delimiter, join } from 'node:path'
import { installPackages, node, root } from './setup.mjs'

const SHOOT = 'Hollenbeek Mills trust, calendar and gallery'
const FRAMES = join(root, 'packages/demo/frames')
/** Some of the frames have been looked at already. */
const CHOSEN = {
  HM0403: {
    rating: 4,
    mark: 'keep',
    text: { title: 'Mist over the polder', keywords: ['mist', 'mill', 'morning'] },
  },
  HM0405: { rating: 3, text: { keywords: ['mist', 'mill', 'morning'] } },
  HM0417: {
    rating: 5,
    mark: 'keep',
    text: { title: 'Morning at the second mill', keywords: ['mill', 'canal', 'morning'] },
  },
  HM0466: { rating: 3, text: { keywords: ['canal', 'lock'] } },
  HM0488: { rating: 2, text: { keywords: ['kiln'] } },
  HM0503: { rating: 4, text: { keywords: ['kiln', 'tiles'] } },
  HM0553: { rating: 3, text: { keywords: ['canal', 'night'] } },
}

installPackages()
node('scripts/build.mjs')

const roots = process.env.DUNKELKAMMER_ROOTS ?? [homedir(), FRAMES].join(delimiter)
const server = spawn(process.execPath, [join(root, 'dist/node/server.js')], {
  cwd: root,
  env: { ...process.env, DUNKELKAMMER_ROOTS: roots },
  stdio: ['ignore', 'pipe', 'inherit'],
})
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal))
server.on('exit', (code) => process.exit(code ?? 0))

/** The address that the server prints when it listens. */
const address = await new Promise((found) => {
  let text = ''
  server.stdout.on('data', (chunk) => {
    text += chunk
    const match = text.match(/http:\/\/\S+/)
    if (match) found(match[0])
  })
})

async function api(path, init) {
  const response = await fetch(`${address}/api${path}`, init)
  const body = await response.json()
  if (!response.ok) throw new Error(body.message)
  return body
}

try {
  const shoots = await api('/shoots')
  const json = { 'Content-Type': 'application/json' }
  const shoot =
    shoots.find((s) => s.name === SHOOT) ??
    (await api('/shoots', { method: 'POST', headers: json, body: JSON.stringify({ name: SHOOT }) }))
  const added = new Map()
  for (const name of readdirSync(FRAMES).filter((n) => n.endsWith('.dng'))) {
    const { frame, known } = await api(`/shoots/${shoot.id}/frames?name=${name}`, {
      method: 'POST',
      body: readFileSync(join(FRAMES, name)),
    })
    if (!known) added.set(name.slice(0, 6), frame.id)
  }
  const changes = Object.entries(CHOSEN)
    .filter(([name]) => added.has(name))
    .map(([name, change]) => ({ ids: [added.get(name)], ...change }))
  if (changes.length)
    await api('/frames', { method: 'PATCH', headers: json, body: JSON.stringify({ changes }) })
  // for the proof at the bench, and for deliveries to paper
  if ((await api('/profiles')).length === 0) {
    const folder = mkdtempSync(join(tmpdir(), 'dunkelkammer-'))
    const file = join(folder, 'paper.icc')
    node('dist/node/paper-profile.js', file)
    await api('/profiles', { method: 'POST', body: readFileSync(file) })
    rmSync(folder, { recursive: true })
  }
  console.log(`The demo shoot is there. Open ${address}`)
} catch (error) {
  console.error(`The demo shoot could not be brought in: ${error.message}`)
  server.kill()
}
