import { setPriority } from 'node:os'
import { parentPort } from 'node:worker_threads'
import { serveAdapt } from '../serveAdapt'
import type { AdaptRequest } from '../messages'
import { nodeCodecs } from './codecs'

try {
  // this thread only: who works at the bench comes first
  setPriority(10)
} catch {
  // where that is not allowed it works at the usual priority
}
const port = parentPort!
port.on('message', (request: AdaptRequest) => {
  void serveAdapt(request, nodeCodecs).then((answer) =>
    port.postMessage(answer, 'dng' in answer ? [answer.dng.buffer as ArrayBuffer] : []),
  )
})
