/**
 * Runs requests one at a time and always the newest: what comes in while one is running replaces what waits.
 * A request that makes the running one useless stops it; so does any, once the running one has said that it gives way.
 */
export class Latest<T> {
  private waiting?: T
  private running?: { request: T; stop: AbortController; gives?: boolean }
  private closed = false

  /**
   * @param run carries a request out; rejections are its own business. What it does after `giveWay` is stopped by any
   *   newer request; that is false where one is waiting already
   * @param useless whether the first request's result would no longer be of use beside the second
   */
  constructor(
    private readonly run: (request: T, signal: AbortSignal, giveWay: () => boolean) => Promise<void>,
    private readonly useless: (running: T, next: T) => boolean,
  ) {}

  push(request: T): void {
    if (this.closed) return
    this.waiting = request
    if (!this.running) void this.work()
    else if (this.running.gives || this.useless(this.running.request, request)) this.running.stop.abort()
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
      const running: NonNullable<typeof this.running> = { request, stop: new AbortController() }
      this.running = running
      const giveWay = () => {
        running.gives = true
        return this.waiting === undefined
      }
      await this.run(request, running.stop.signal, giveWay).catch(() => undefined)
      this.running = undefined
    }
  }
}
