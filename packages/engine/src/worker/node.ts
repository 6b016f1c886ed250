import { parentPort } from 'node:worker_threads'
import type { ToWorker } from '../protocol'
import { serve } from './serve'

const port = parentPort!
const receive = serve((message) => port.postMessage(message))
// messages wait for one another: the start is asynchronous
let last = Promise.resolve()
port.on('message', (message: ToWorker) => {
  last = last.then(() => receive(message))
})
