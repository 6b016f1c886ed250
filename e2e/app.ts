import { test as base, expect, type Page } from '@playwright/test'
import { readFileSync } from 'node:fs'
import { demoBytes, demoFile, startServer, temporary, type TestServer } from '../packages/server/test/server'

/** The application with a library of its own and two demo frames in one shoot. */
export interface App {
  server: TestServer
  library: string
  shootId: string
  frameId: string
  benchUrl: string
}

interface Host {
  server: TestServer
  library: string
}

/** One server for all tests of a worker; each test has a shoot with two frames of its own. */
export const test = base.extend<{ app: App }, { host: Host }>({
  host: [
    async ({}, use) => {
      const library = temporary()
      const server = await startServer(library.path)
      await use({ server, library: library.path })
      await server.kill()
      library.remove()
    },
    { scope: 'worker' },
  ],
  app: async ({ host: { server, library } }, use) => {
    const { id: shootId } = await server.newShoot({ name: 'Hollenbeek Mills trust' })
    const frameId = await server.frame(shootId, 'HM0417.dng', demoBytes())
    await server.frame(shootId, 'HM0466.dng', readFileSync(demoFile.replace('HM0417', 'HM0466')))
    const benchUrl = `${server.url}/shoots/${shootId}/frames/${frameId}`
    await use({ server, library, shootId, frameId, benchUrl })
  },
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
  const { id } = await app.server.newShoot({ name: 'A frame of its own' })
  const frameId = await app.server.frame(id, `${name}.dng`, readFileSync(demoFile.replace('HM0417', name)))
  await openBench(page, { ...app, benchUrl: `${app.server.url}/shoots/${id}/frames/${frameId}` }, search)
  await settled(page)
  return frameId
}
