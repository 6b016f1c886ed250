import type { RequestHandler } from 'express'
import { HttpProblem } from '../problem'

/** A body of which nothing comes for so long has ended. */
export const STALLED_MS = 60_000

/** Ends requests whose bodies stop coming, so that half a file does not lie about for good. */
export function endStalled(ms: number): RequestHandler {
  return (request, response, next) => {
    const { socket } = request
    let seen = socket.bytesRead
    const timer = setInterval(() => {
      if (request.complete) return clearInterval(timer)
      const moved = socket.bytesRead !== seen
      seen = socket.bytesRead
      if (moved) return
      clearInterval(timer)
      const { status, code, message } = new HttpProblem(
        408,
        'stalled',
        'Nothing more came of this request, so it was ended. Try again.',
      )
      response.once('finish', () => request.destroy())
      if (response.headersSent) request.destroy()
      else response.status(status).set('Connection', 'close').json({ code, message })
    }, ms)
    timer.unref()
    response.once('close', () => clearInterval(timer))
    next()
  }
}
