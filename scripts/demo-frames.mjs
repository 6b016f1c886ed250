/**
 * Renders, photographs and writes the demo frames to packages/demo/frames: all, or those named (`-- HM0403 HM0405`).
 * Takes one to fifteen minutes a frame on two cores; rendered rows are kept in .cache/radiance by the scene's name and
 * used again until that folder is removed.
 */
import { execFileSync, spawn } from 'node:child_process'
import { existsSync, mkdirSync, writeFileSync } from 'node:fs'
import { availableParallelism } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const at = (...parts) => join(root, ...parts)
const node = (...args) =>
  execFileSync(process.execPath, args, { cwd: root, stdio: ['ignore', 'inherit', 'inherit'] })

node('scripts/build.mjs', '--no-web')
const { demoFrames, RENDER_MARGIN } = await import(at('dist/node/demo.js'))
const BAND = 101

const wanted = process.argv.slice(2)
for (const [index, frame] of demoFrames.entries()) {
  if (wanted.length && !wanted.some((name) => frame.fileName.startsWith(name))) continue
  const folder = at('.cache/radiance', frame.scene.id)
  mkdirSync(folder, { recursive: true })
  const height = frame.height + 2 * RENDER_MARGIN
  const starts = []
  for (let y = 0; y < height; y += BAND) starts.push(y)
  const next = async () => {
    for (;;) {
      const y = starts.shift()
      if (y === undefined) return
      const file = join(folder, `band-${y}.f32`)
      if (existsSync(file)) continue
      const to = Math.min(y + BAND, height)
      const args = [at('dist/node/render-band.js'), String(index), String(y), String(to), file]
      await new Promise((done, fail) =>
        spawn(process.execPath, args, { stdio: 'inherit' }).on('exit', (code) =>
          code ? fail(new Error('rendering failed')) : done(),
        ),
      )
    }
  }
  await Promise.all(Array.from({ length: availableParallelism() }, next))

  // the camera's own picture: a small development of the same mosaic, brighter and harder than ours
  const target = at('packages/demo/frames', frame.fileName)
  mkdirSync(at('packages/demo/frames'), { recursive: true })
  const bare = join(folder, frame.fileName)
  const preview = join(folder, 'preview.jpg')
  node(at('dist/node/assemble.js'), String(index), folder, bare)
  const size = ['--long-edge', String(frame.width / 2), '--quality', '80', '--overwrite']
  const look = ['--settings', join(folder, 'camera-look.json')]
  writeFileSync(look[1], JSON.stringify(frame.cameraLook))
  node(at('packages/cli/bin/dunkelkammer.mjs'), 'develop', bare, '--to', preview, ...size, ...look)
  const shape = [String(frame.width / 2), String(frame.height / 2)]
  node(at('dist/node/assemble.js'), String(index), folder, target, preview, ...shape)
  console.log(target)
}
