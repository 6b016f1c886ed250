/** How long after a sign of work somebody is taken to be at work still. */
const LASTS_MS = 4000
/** Share of the time that work in the background may take while somebody is at work. */
const SHARE = 0.1
/** The same of what somebody waits for, such as frames that come in. */
export const AWAITED_SHARE = 0.7
const LONGEST_PAUSE_MS = 2000

/**
 * Whether somebody is at work at the bench. Priorities of threads do not count between programs on many systems, so
 * what goes on in the background asks here and steps back by itself.
 */
export class Activity {
  /** By a clock that nobody sets. */
  private last = -Infinity

  /** Somebody has just done something that must not wait. */
  touch(): void {
    this.last = performance.now()
  }

  get atWork(): boolean {
    return performance.now() - this.last < LASTS_MS
  }

  /** After a piece of background work that took `ms`: leaves the machine to whoever is at work. */
  async stepBack(ms: number, signal?: AbortSignal, share = SHARE): Promise<void> {
    if (!this.atWork) return
    const pause = Math.min((ms * (1 - share)) / share, LONGEST_PAUSE_MS)
    await new Promise<void>((done) => {
      const timer = setTimeout(done, pause)
      signal?.addEventListener('abort', () => {
        clearTimeout(timer)
        done()
      })
    })
  }
}
