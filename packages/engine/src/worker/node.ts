import { setPriority } from 'node:os'
import { parentPort, workerData } from 'node:worker_threads'
import type { ToWorker } from '../protocol'
import { serve } from './serve'

const { nice } = (workerData ?? {}) as { nice?: number }
try {
  // counts for this thread alone
  if (nice) setPriority(nice)
} catch {
  // where that is not allowed it works at the usual priority
}
const port = parentPort!
const receive = serve((message) => port.postMessage(message))
// messages wait for one another: the start is asynchronous
let last = Promise.resolve()
port.on('message', (message: ToWorker) => {
  last = last.then(() => receive(message))
})
