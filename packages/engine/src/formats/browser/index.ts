import { Adapter } from '../adapter'
import type { AdaptAnswer } from '../messages'

/** Adapts files in a web worker of this page. */
export const createAdapter = (): Adapter =>
  new Adapter(() => {
    const worker = new Worker(new URL('./thread.ts', import.meta.url), { type: 'module' })
    return {
      post: (request, transfer) => worker.postMessage(request, { transfer: [...transfer] }),
      listen(receive, broken) {
        worker.onmessage = (event: MessageEvent<AdaptAnswer>) => receive(event.data)
        worker.onerror = (event) => broken(new Error(event.message || 'the reader stopped'))
      },
      stop: () => worker.terminate(),
    }
  })
