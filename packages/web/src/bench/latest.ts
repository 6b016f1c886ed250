/**
 * Runs requests one at a time and always the newest: what comes in while one is running replaces what waits.
 * A request that makes the running one useless stops it.
 */
export class Latest<T> {
  private waiting?: T
  private running?: { request: T; stop: AbortController }
  private closed = false

  /**
   * @param run carries a request out; rejections are its own business
   * @param useless whether the first request's result would no longer be of use beside the second
   */
  constructor(
    private readonly run: (request: T, signal: AbortSignal) => Promise<void>,
    private readonly useless: (running: T, next: T) => boolean,
  ) {}

  push(request: T): void {
    if (this.closed) return
    this.waiting = request
    if (!this.running) void this.work()
    else if (this.useless(this.running.request, request)) this.running.stop.abort()
  }

  close(): void {
    this.closed = true
    this.waiting = undefined
    this.running?.stop.abort()
  }

  private async work(): Promise<void> {
    while (this.waiting !== undefined) {
      const request = this.waiting
      this.waiting = undefined
      this.running = { request, stop: new AbortController() }
      await this.run(request, this.running.stop.signal).catch(() => undefined)
      this.running = undefined
    }
  }
}
