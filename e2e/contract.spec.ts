import {
  changesBetween,
  readDevelopment,
  stepById,
  STEP_IDS,
  type Development,
  type Operation,
  type StepId,
} from '@dunkelkammer/core'
import { delivered } from '../packages/engine/test/delivered'
import { builtEngineFiles, createEngine, type Engine } from '@dunkelkammer/engine/node'
import { decode } from 'fast-png'
import { contractFrame, SAMPLES } from '../packages/cli/test/samples'
import { expect, look, openBench, pixels, settled, test } from './app'

const DELIVERY = { format: { kind: 'png' } } as const
const start = readDevelopment({})
const TIME = '2026-03-01T06:00:00.000Z'
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
  // one after another: without each step, then with it
  let last = start
  let parent: string | null = null
  const operations: Operation[] = []
  for (const id of STEP_IDS)
    for (const development of [of(id, stepById.get(id)!.absent ?? stepById.get(id)!.neutral), of(id)]) {
      const changes = changesBetween(last, development)
      // a step may be absent at the start
      if (changes.length === 0) continue
      const entry: string = crypto.randomUUID()
      operations.push({ kind: 'change', id: entry, parent, label: id, changes, time: TIME })
      last = development
      parent = entry
    }
  operations.push({ kind: 'go', id: crypto.randomUUID(), to: null, tip: parent })
  expect((await app.server.append(version, { base: null, operations })).status).toBe(200)
  await openBench(page, { ...app, benchUrl: `${app.server.url}/shoots/${id}/frames/${frameId}` }, '?zoom=100')
  const before = await settled(page)
  for (const step of STEP_IDS) {
    const bytes = await delivered(picture, of(step), DELIVERY)
    const file = decode(bytes)
    // what was there before is not what is waited for
    const different = async () => {
      const { width, height } = await look(page)
      if (width !== file.width || height !== file.height) return `${width} x ${height}`
      const shown = await pixels(page)
      return file.data.filter((v: number, i: number) => v !== shown[Math.floor(i / 3) * 4 + (i % 3)]).length
    }
    const ahead = operations.filter((o) => o.kind === 'change' && o.label === step).length
    if (ahead === 2) {
      await page.keyboard.press('Control+Shift+Z')
      await expect.poll(different, step).not.toBe(0)
    }
    await page.keyboard.press('Control+Shift+Z')
    await expect.poll(different, step).toBe(0)
  }
  for (let i = 1; i < operations.length; i++) await page.keyboard.press('Control+Z')
  await expect.poll(async () => (await look(page)).sum).toBe(before.sum)
  engine.close(picture)
})
