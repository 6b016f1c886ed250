import { describe, expect, it, vi } from 'vitest'
import { layOutView, toPicture } from './picture/geometry'
import { Latest } from './picture/latest'
import { neutralFromSample } from './balance/pickGrey'

describe('the newest request', () => {
  it('stops what has said that it gives way, for any newer request', async () => {
    const seen: string[] = []
    let free!: () => void
    const latest = new Latest<number>(
      async (n, signal, giveWay) => {
        seen.push(`quick ${n}`)
        if (!giveWay()) return
        await new Promise<void>((done) => {
          free = done
          signal.addEventListener('abort', () => done())
        })
        if (!signal.aborted) seen.push(`exact ${n}`)
      },
      () => false,
    )
    latest.push(1)
    latest.push(2)
    await new Promise((done) => setTimeout(done, 5))
    free()
    await new Promise((done) => setTimeout(done, 5))
    expect(seen).toEqual(['quick 1', 'quick 2', 'exact 2'])
  })

  it('is the one that runs next, and stops what it makes useless', async () => {
    const ran: number[] = []
    const stopped: number[] = []
    const ends: (() => void)[] = []
    const latest = new Latest<number>(
      (n, signal) =>
        new Promise((done) => {
          ran.push(n)
          signal.addEventListener('abort', () => {
            stopped.push(n)
            done()
          })
          ends.push(done)
        }),
      (running, next) => next - running >= 10,
    )
    latest.push(1)
    latest.push(2)
    latest.push(3)
    expect([ran, stopped]).toEqual([[1], []])
    ends[0]()
    await vi.waitFor(() => expect(ran).toEqual([1, 3]))
    latest.push(20)
    await vi.waitFor(() => expect(ran).toEqual([1, 3, 20]))
    expect(stopped).toEqual([3])
  })
})

describe('the view', () => {
  const picture = { width: 2256, height: 1504 }
  it('fits the whole picture into the pane, centred', () => {
    const g = layOutView(picture, { width: 828, height: 580, density: 2 }, 'fit', { x: 0.5, y: 0.5 })
    expect(g.width / g.height).toBeCloseTo(1.5, 2)
    expect(g.width * g.pixel).toBeLessThanOrEqual(788)
    expect(g.left * 2 + g.width * g.pixel).toBeCloseTo(828, 0)
  })

  it('shows one picture pixel a device pixel at 100 %, always inside the picture', () => {
    for (const density of [1, 2])
      for (const zoom of [1, 2] as const)
        for (const x of [0, 0.13, 0.5, 1]) {
          const pane = { width: 801, height: 577, density }
          const g = layOutView(picture, pane, zoom, { x, y: 1 - x })
          expect(g.pixel * density).toBe(zoom)
          expect(g.region.x).toBeGreaterThanOrEqual(0)
          expect(g.region.x + g.region.width).toBeLessThanOrEqual(picture.width)
          expect(g.region.y + g.region.height).toBeLessThanOrEqual(picture.height)
          expect(g.region.width * g.pixel).toBeGreaterThanOrEqual(
            Math.min(pane.width, picture.width * g.pixel),
          )
          const middle = toPicture(g, g.left + g.width * g.pixel * 0.25, g.top + g.height * g.pixel * 0.75)
          expect(middle).toEqual({ x: expect.closeTo(0.25, 9), y: expect.closeTo(0.75, 9) })
        }
  })
})

describe('picking grey', () => {
  it('takes ratios, and refuses what says nothing', () => {
    expect(neutralFromSample([0.1, 0.2, 0.15])).toEqual({ neutral: [0.5, 1, expect.closeTo(0.75, 9)] })
    expect(neutralFromSample([0.3, 0.99, 0.5])).toMatchObject({ problem: expect.stringMatching(/clipped/) })
    expect(neutralFromSample([0.0001, 0.0002, 0.0001])).toMatchObject({
      problem: expect.stringMatching(/dark/),
    })
  })
})
