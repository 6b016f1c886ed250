import type { RequestHandler } from 'express'
import { HttpProblem } from '../problem'

/** Names under which this machine may be asked for. */
const OWN_NAMES = ['127.0.0.1', 'localhost', '[::1]']

/** Where the build puts the worker of the raw library, see the web application's build. */
const RAW_LIBRARY = '/assets/raw-library-'

/**
 * What pages and workers may load and run. The raw library's worker makes functions from text on its start; it alone,
 * which sees nothing but the bytes of a file, is allowed to.
 */
const policy = (makesFunctions: boolean) =>
  [
    "default-src 'self'",
    `script-src 'self' 'wasm-unsafe-eval'${makesFunctions ? " 'unsafe-eval'" : ''}`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' blob: data:",
    "worker-src 'self' blob:",
    "frame-ancestors 'none'",
    "base-uri 'none'",
    "form-action 'self'",
  ].join('; ')

/**
 * Turns away what a hostile page could send: requests to another host name (a name rebound to this machine), from
 * another origin, or made by another site. Sets the headers that isolate our own pages.
 */
export function guard(hostNames: readonly string[] = OWN_NAMES): RequestHandler {
  const own = (host: string) => hostNames.includes(host.replace(/:\d+$/, ''))
  return (request, response, next) => {
    response.set({
      'Cross-Origin-Opener-Policy': 'same-origin',
      'Cross-Origin-Embedder-Policy': 'require-corp',
      'Cross-Origin-Resource-Policy': 'same-origin',
      'Content-Security-Policy': policy(request.path.startsWith(RAW_LIBRARY)),
      'X-Content-Type-Options': 'nosniff',
      'Referrer-Policy': 'no-referrer',
    })
    const { host, origin } = request.headers
    if (!host || !own(host))
      return next(new HttpProblem(403, 'host', 'This server does not answer to that name.'))
    if (origin !== undefined && origin !== `http://${host}` && origin !== `https://${host}`)
      return next(new HttpProblem(403, 'origin', 'This server does not answer to other sites.'))
    const site = request.headers['sec-fetch-site']
    if (site === 'cross-site' && request.headers['sec-fetch-mode'] !== 'navigate')
      return next(new HttpProblem(403, 'origin', 'This server does not answer to other sites.'))
    // throws where the address is none
    decodeURIComponent(request.path)
    next()
  }
}
