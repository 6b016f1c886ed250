import { startDevelopment } from '@dunkelkammer/core'
import type { Version } from '@dunkelkammer/contract'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { VersionDesk } from './desk'
import { withStep } from './drawers/props'
import { layOutView, toPicture } from './geometry'
import { Latest } from './latest'
import { neutralFromSample } from './pickGrey'

const version = (): Version => ({
  id: '00000000-0000-4000-8000-000000000001',
  frameId: '00000000-0000-4000-8000-000000000002',
  name: 'First version',
  revision: 4,
  savedBy: null,
  state: { history: [{ label: 'As taken', development: startDevelopment() }], cursor: 0 },
})

/** A server that remembers one version, can be away or slow, lose answers, and refuses stale saves. */
class FakeServer {
  saved: Version = version()
  away = false
  /** Saves that it takes without its answer coming through. */
  deaf = 0
  /** Milliseconds until it answers. */
  slow = 0
  fetch = async (_url: string, init: RequestInit): Promise<Response> => {
    if (this.away) throw new TypeError('no connection')
    const { revision, state, save } = JSON.parse(String(init.body))
    const again = save === this.saved.savedBy && revision + 1 === this.saved.revision
    if (again) return new Response(JSON.stringify(this.saved))
    if (revision !== this.saved.revision)
      return new Response(JSON.stringify({ code: 'changed', message: 'changed elsewhere' }), { status: 409 })
    this.saved = { ...this.saved, revision: revision + 1, savedBy: save, state }
    if (this.slow) await new Promise((done) => setTimeout(done, this.slow))
    if (this.deaf-- > 0) throw new TypeError('the answer got lost')
    return new Response(JSON.stringify(this.saved))
  }
}

let server: FakeServer
/** A clock, a store and a server for each test of a block. */
function withBrowser(): void {
  beforeEach(() => {
    vi.useFakeTimers()
    server = new FakeServer()
    const stored = new Map<string, string>()
    vi.stubGlobal('fetch', server.fetch)
    vi.stubGlobal('addEventListener', () => undefined)
    vi.stubGlobal('removeEventListener', () => undefined)
    vi.stubGlobal('localStorage', {
      getItem: (k: string) => stored.get(k) ?? null,
      setItem: (k: string, v: string) => void stored.set(k, v),
      removeItem: (k: string) => void stored.delete(k),
    })
  })
  afterEach(() => {
    vi.useRealTimers()
    vi.unstubAllGlobals()
  })
}

const expose = (desk: VersionDesk, ev: number, gesture?: string) =>
  desk.adjust((d) => withStep(d, 'exposure', { ev }), 'Exposure', gesture)

describe('the desk', () => {
  withBrowser()

  it('makes one step of a drag and undoes it as one', () => {
    const desk = new VersionDesk(version())
    for (const ev of [0.1, 0.2, 0.3]) expose(desk, ev, 'exposure')
    desk.endGesture()
    expose(desk, 0.5, 'exposure')
    desk.undo()
    expect(desk.development.steps.exposure.ev).toBe(0.3)
    desk.undo()
    expect(desk.development.steps.exposure.ev).toBe(0)
    expect(desk.snapshot()).toMatchObject({ undoes: undefined, redoes: 'Exposure' })
    desk.redo()
    expose(desk, -1)
    expect(desk.snapshot().redoes).toBeUndefined()
  })

  it('saves what was done, the newest state last', async () => {
    const desk = new VersionDesk(version())
    expose(desk, 0.1)
    await vi.advanceTimersByTimeAsync(400)
    expose(desk, 0.2)
    expose(desk, 0.3)
    expect(desk.snapshot().saving).toBe('saving')
    await vi.advanceTimersByTimeAsync(1000)
    expect(desk.snapshot().saving).toBe('saved')
    expect(server.saved.revision).toBe(6)
    expect(server.saved.state.history.at(-1)!.development.steps.exposure.ev).toBe(0.3)
  })

  it('keeps trying while the server is away, and says so', async () => {
    const desk = new VersionDesk(version())
    desk.subscribe(() => undefined)
    server.away = true
    expose(desk, 1)
    await vi.advanceTimersByTimeAsync(1000)
    expect(desk.snapshot()).toMatchObject({
      saving: 'waiting',
      problem: expect.stringMatching(/does not answer/),
    })
    server.away = false
    await vi.advanceTimersByTimeAsync(4000)
    expect(desk.snapshot().saving).toBe('saved')
    expect(server.saved.state.cursor).toBe(1)
  })

  it('takes up in the next window what the last one could not save', async () => {
    server.away = true
    expose(new VersionDesk(version()), 1.5)
    await vi.advanceTimersByTimeAsync(1000)
    server.away = false
    const next = new VersionDesk(version())
    next.open()
    expect(next.snapshot().saving).toBe('saving')
    expect(next.development.steps.exposure.ev).toBe(1.5)
    await vi.advanceTimersByTimeAsync(1000)
    expect(server.saved.state.history.at(-1)!.development.steps.exposure.ev).toBe(1.5)
    // but not over something newer
    server.away = true
    expose(next, 2)
    await vi.advanceTimersByTimeAsync(400)
    expect(new VersionDesk({ ...server.saved, revision: 99 }).development.steps.exposure.ev).toBe(1.5)
  })
})

describe('nothing of a save is lost', () => {
  withBrowser()
  const onServer = () => server.saved.state.history.map((e) => e.development.steps.exposure.ev)

  it('where a change comes while one is on its way, and the page is loaded anew', async () => {
    server.slow = 600
    const desk = VersionDesk.of(version())
    desk.open()
    expose(desk, 1)
    await vi.advanceTimersByTimeAsync(400)
    expose(desk, 2)
    desk.flush()
    // another page: the server has the first, and never told this one
    const next = new VersionDesk(server.saved)
    expect(next.development.steps.exposure.ev).toBe(2)
    next.open()
    await vi.advanceTimersByTimeAsync(1000)
    expect(onServer()).toEqual([0, 1, 2])
  })

  it('where a change comes while one is on its way, and another frame is gone to and left again', async () => {
    server.slow = 600
    const desk = VersionDesk.of(version())
    desk.open()
    expose(desk, 1)
    await vi.advanceTimersByTimeAsync(400)
    expose(desk, 2)
    desk.close()
    // back at once: what is still being saved is gone on with
    const back = VersionDesk.of(server.saved)
    back.open()
    expose(back, 3)
    await vi.advanceTimersByTimeAsync(3000)
    expect(back.snapshot()).toMatchObject({ saving: 'saved', problem: undefined })
    expect(onServer()).toEqual([0, 1, 2, 3])
    // all of it is saved: the next time it is a desk of its own
    back.close()
    expect(VersionDesk.of(server.saved)).not.toBe(back)
  })

  it('where an answer gets lost, and others after it', async () => {
    server.deaf = 2
    const desk = new VersionDesk(version())
    desk.subscribe(() => undefined)
    expose(desk, 1)
    await vi.advanceTimersByTimeAsync(400)
    expect(desk.snapshot().saving).toBe('waiting')
    expose(desk, 2)
    await vi.advanceTimersByTimeAsync(9000)
    expect(desk.snapshot()).toMatchObject({ saving: 'saved', problem: undefined })
    expect(onServer()).toEqual([0, 1, 2])
    expose(desk, 3)
    await desk.settle()
    expect(onServer()).toEqual([0, 1, 2, 3])
  })

  it('where somebody else saved, whose work stays', async () => {
    const desk = new VersionDesk(version())
    desk.subscribe(() => undefined)
    server.saved = { ...version(), revision: 5, savedBy: 'another window' }
    expose(desk, 1)
    await vi.advanceTimersByTimeAsync(1000)
    expect(desk.snapshot()).toMatchObject({ saving: 'waiting', problem: 'changed elsewhere' })
    expect(onServer()).toEqual([0])
  })
})

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
