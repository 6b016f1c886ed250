import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { Activity } from './activity'

beforeEach(() => void vi.useFakeTimers())
afterEach(() => void vi.useRealTimers())

/** Milliseconds that stepping back takes. */
async function pause(activity: Activity, ms: number, share?: number): Promise<number> {
  const from = Date.now()
  const done = activity.stepBack(ms, undefined, share).then(() => Date.now() - from)
  await vi.runAllTimersAsync()
  return done
}

describe('activity', () => {
  it('holds nothing up while nobody is at work', async () => {
    expect(await pause(new Activity(), 100)).toBe(0)
  })

  it('leaves nine tenths of the time to whoever is, up to a limit, for some seconds', async () => {
    const activity = new Activity()
    activity.touch()
    expect(activity.atWork).toBe(true)
    expect(await pause(activity, 100)).toBe(900)
    activity.touch()
    expect(await pause(activity, 100, 0.25)).toBe(300)
    activity.touch()
    expect(await pause(activity, 5000)).toBe(2000)
    await vi.advanceTimersByTimeAsync(4000)
    expect(activity.atWork).toBe(false)
    expect(await pause(activity, 100)).toBe(0)
  })

  it('ends at once where the work is cancelled', async () => {
    const activity = new Activity()
    activity.touch()
    const stop = new AbortController()
    const from = Date.now()
    const done = activity.stepBack(100, stop.signal).then(() => Date.now() - from)
    stop.abort()
    expect(await done).toBe(0)
  })
})
