import { test as base, expect, type Page } from '@playwright/test'
import { startServer, temporary, demoFile, type TestServer } from '../packages/server/test/server'

/** The application with a library of its own and two demo frames in one shoot. */
export interface App {
  server: TestServer
  library: string
  shootId: string
  frameId: string
  benchUrl: string
}

export const test = base.extend<object, { app: App }>({
  app: [
    async ({}, use) => {
      const library = temporary()
      const server = await startServer(library.path)
      const shoot = (await server.send('POST', '/api/shoots', { name: 'Hollenbeek Mills trust' })).body as {
        id: string
      }
      const { readFileSync } = await import('node:fs')
      const added = await server.ask(`/api/shoots/${shoot.id}/frames?name=HM0417.dng`, {
        method: 'POST',
        body: readFileSync(demoFile),
      })
      const frameId = (added.body as { frame: { id: string } }).frame.id
      await server.ask(`/api/shoots/${shoot.id}/frames?name=HM0466.dng`, {
        method: 'POST',
        body: readFileSync(demoFile.replace('HM0417', 'HM0466')),
      })
      const benchUrl = `${server.url}/shoots/${shoot.id}/frames/${frameId}`
      await use({ server, library: library.path, shootId: shoot.id, frameId, benchUrl })
      await server.kill()
      library.remove()
    },
    { scope: 'worker' },
  ],
})

export { expect }

// by its place in the page: it is looked at also while a dialog has the rest of the page set aside
export const developed = (page: Page) => page.locator('canvas[aria-label="The developed picture"]')

/** Opens the bench and waits for the exact picture. */
export async function openBench(page: Page, app: App, search = ''): Promise<void> {
  await page.goto(app.benchUrl + search)
  await expect(developed(page)).toBeVisible()
}

/** What a canvas shows, small enough to compare often: a checksum and the mean of each channel. */
export interface Seen {
  sum: string
  mean: [number, number, number]
  width: number
  height: number
}

export const look = (page: Page, name = 'The developed picture'): Promise<Seen> =>
  page.evaluate((label) => {
    const canvas = document.querySelector<HTMLCanvasElement>(`canvas[aria-label="${label}"]`)!
    const { width, height } = canvas
    const { data } = canvas.getContext('2d')!.getImageData(0, 0, width, height)
    let hash = 0x811c9dc5
    const sums = [0, 0, 0]
    for (let i = 0; i < data.length; i++) {
      hash = Math.imul(hash ^ data[i], 0x01000193)
      if (i % 4 < 3) sums[i % 4] += data[i]
    }
    const n = width * height
    return {
      sum: `${width} ${height} ${hash}`,
      mean: sums.map((v) => v / n) as [number, number, number],
      width,
      height,
    }
  }, name)

/** All pixels of a canvas, RGBA. */
export async function pixels(page: Page, name = 'The developed picture'): Promise<Buffer> {
  const text = await page.evaluate((label) => {
    const canvas = document.querySelector<HTMLCanvasElement>(`canvas[aria-label="${label}"]`)!
    const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height)
    let binary = ''
    for (let i = 0; i < data.length; i += 8192) binary += String.fromCharCode(...data.subarray(i, i + 8192))
    return btoa(binary)
  }, name)
  return Buffer.from(text, 'base64')
}

/** Waits until the screen holds still. */
export async function settled(page: Page): Promise<Seen> {
  let last = ''
  for (let i = 0; i < 60; i++) {
    await page.waitForTimeout(150)
    const now = await look(page)
    const exact = (await developed(page).getAttribute('data-exact')) !== 'false'
    if (exact && now.sum === last) return now
    last = now.sum
  }
  throw new Error('the picture does not come to rest')
}

/** A frame of its own for each test: what one does must not be the start of the next. @returns its id */
export async function fresh(page: Page, app: App, search = '', name = 'HM0417'): Promise<string> {
  const { id } = (await app.server.send('POST', '/api/shoots', { name: 'A frame of its own' })).body as {
    id: string
  }
  const { readFileSync } = await import('node:fs')
  const added = await app.server.ask(`/api/shoots/${id}/frames?name=${name}.dng`, {
    method: 'POST',
    body: readFileSync(demoFile.replace('HM0417', name)),
  })
  const frameId = (added.body as { frame: { id: string } }).frame.id
  await openBench(page, { ...app, benchUrl: `${app.server.url}/shoots/${id}/frames/${frameId}` }, search)
  await settled(page)
  return frameId
}
