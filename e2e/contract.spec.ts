import { readDevelopment, stepById, STEP_IDS, type Development, type StepId } from '@dunkelkammer/core'
import { deliverFile } from '@dunkelkammer/engine/encode'
import { builtEngineFiles, createEngine, type Engine } from '@dunkelkammer/engine/node'
import { decode } from 'fast-png'
import { contractFrame, SAMPLES } from '../packages/cli/test/samples'
import { expect, look, openBench, pixels, settled, test } from './app'

const DELIVERY = { format: 'png', bits: 8, space: 'srgb', quality: 90, compression: 'deflate' } as const
const start = readDevelopment({})
const of = (id: StepId, settings: unknown = SAMPLES[id]): Development =>
  readDevelopment({ steps: { [id]: settings } })

// before there is a server: it takes long enough for connections to be closed
let frame: Uint8Array
let engine: Engine
test.beforeAll(() => {
  frame = contractFrame()
  engine = createEngine(builtEngineFiles())
})
test.afterAll(() => engine.stop())

test('every step shows at 100 % what is delivered, and leaves nothing behind when undone', async ({
  page,
  app,
}) => {
  test.setTimeout(240_000)
  const picture = await engine.open(frame)
  const { id } = await app.server.newShoot({ name: 'A step at a time' })
  const frameId = await app.server.frame(id, 'frame.dng', frame)
  const version = await app.server.version(frameId)
  const history = [
    { label: 'As taken', development: start },
    ...STEP_IDS.flatMap((id) => [
      { label: `without ${id}`, development: of(id, stepById.get(id)!.absent ?? stepById.get(id)!.neutral) },
      { label: id, development: of(id) },
    ]),
  ]
  const state = { history, cursor: 0 }
  const saved = await app.server.ask(`/api/versions/${version.id}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ revision: version.revision, state }),
  })
  expect(saved.status).toBe(200)
  await openBench(page, { ...app, benchUrl: `${app.server.url}/shoots/${id}/frames/${frameId}` }, '?zoom=100')
  const before = await settled(page)
  for (const step of STEP_IDS) {
    const bytes = await deliverFile(picture, of(step), DELIVERY, {})
    const file = decode(bytes)
    // what was there before is not what is waited for
    const different = async () => {
      const { width, height } = await look(page)
      if (width !== file.width || height !== file.height) return `${width} x ${height}`
      const shown = await pixels(page)
      return file.data.filter((v: number, i: number) => v !== shown[Math.floor(i / 3) * 4 + (i % 3)]).length
    }
    await page.keyboard.press('Control+Shift+Z')
    await expect.poll(different, step).not.toBe(0)
    await page.keyboard.press('Control+Shift+Z')
    await expect.poll(different, step).toBe(0)
  }
  for (let i = 0; i < 2 * STEP_IDS.length; i++) await page.keyboard.press('Control+Z')
  await expect.poll(async () => (await look(page)).sum).toBe(before.sum)
  engine.close(picture)
})
