import type { ToWorker } from '../protocol'
import { serve } from './serve'

const receive = serve((message) => postMessage(message))
// messages wait for one another: the start is asynchronous
let last = Promise.resolve()
addEventListener('message', (event: MessageEvent<ToWorker>) => {
  last = last.then(() => receive(event.data))
})
