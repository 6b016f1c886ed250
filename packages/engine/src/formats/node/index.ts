import { Worker } from 'node:worker_threads'
import { Adapter } from '../adapter'
import type { AdaptAnswer } from '../messages'

export { nodeCodecs } from './codecs'

/** Adapts files on a worker thread. @param script where the build put it */
export const createAdapter = (script: string): Adapter =>
  new Adapter(() => {
    const worker = new Worker(script)
    worker.unref()
    return {
      post: (request, transfer) => {
        worker.ref()
        worker.postMessage(request, [...transfer])
      },
      listen(receive, broken) {
        worker.on('message', (answer: AdaptAnswer) => {
          worker.unref()
          receive(answer)
        })
        worker.on('error', (error) => broken(error instanceof Error ? error : new Error(String(error))))
      },
      stop: () => void worker.terminate(),
    }
  })
