import express, { type Request, type RequestHandler } from 'express'
import { HttpProblem } from '../problem'

const tooLarge = () => new HttpProblem(413, 'too-large', 'This request is too large.')

/**
 * Refuses a body that says itself that it is too large before any of it is read.
 * @throws HttpProblem 413
 */
export function refuseLarge(request: Request, most: number, problem: () => HttpProblem = tooLarge): void {
  if (Number(request.headers['content-length'] ?? 0) > most) throw problem()
}

const limited =
  (most: number, read: RequestHandler): RequestHandler =>
  (request, response, next) => {
    refuseLarge(request, most)
    void read(request, response, next)
  }

/** An empty body would pass for an empty object and set everything back to nothing. */
function refuseEmpty(_request: unknown, _response: unknown, body: Buffer): void {
  if (body.length === 0) throw Object.assign(new Error('empty'), { type: 'entity.empty' })
}

/** Reads a JSON body of at most so many bytes. */
export const jsonBody = (most = 4 << 20): RequestHandler =>
  limited(most, express.json({ limit: most, verify: refuseEmpty }))

/** Reads any body of at most so many bytes as text. */
export const textBody = (most: number): RequestHandler =>
  limited(most, express.text({ limit: most, type: () => true }))

/** Reads any body of at most so many bytes as it is. */
export const rawBody = (most: number): RequestHandler =>
  limited(most, express.raw({ limit: most, type: () => true }))
