import { afterEach, describe, expect, it, vi } from 'vitest'
import { z } from 'zod'
import { api, sentence, ServerProblem } from '../api/client'
import { megabytes, moment, shutter, takingLine } from './format'

const frame = (metadata: object) =>
  ({ metadata: { orientation: 1, ...metadata } }) as Parameters<typeof takingLine>[0]

describe('formats', () => {
  it('write shutters as photographers read them', () => {
    expect(shutter(1 / 320)).toBe('1/320 s')
    expect(shutter(0.0125)).toBe('1/80 s')
    expect(shutter(0.5)).toBe('0.5 s')
    expect(shutter(30)).toBe('30 s')
  })

  it('leave out of the taking what is not known', () => {
    expect(takingLine(frame({ focalLength: 28, iso: 400 }))).toBe('28 mm  ISO 400')
    expect(takingLine(frame({}))).toBe('')
  })

  it('name sizes and moments, and leave alone what is no date', () => {
    expect(megabytes(3599308)).toBe('3.6 MB')
    expect(moment('2026-05-14T06:52:11')).toBe('14 May 2026, 06:52')
    expect(moment('some day')).toBe('some day')
  })
})

describe('asking the server', () => {
  afterEach(() => void vi.unstubAllGlobals())
  const answer = (response: () => Response | Promise<Response>) =>
    vi.stubGlobal('fetch', async () => response())
  const failure = async (run: Promise<unknown>) => run.then(() => undefined).catch((e: unknown) => e)

  it('gives the server’s own sentence and code', async () => {
    answer(
      () =>
        new Response(JSON.stringify({ code: 'exists', message: 'There is one already.' }), { status: 409 }),
    )
    const error = (await failure(api.shoots())) as ServerProblem
    expect([error.code, sentence(error)]).toEqual(['exists', 'There is one already.'])
  })

  it('says that the server is away, or that its answer is not understood', async () => {
    answer(() => Promise.reject(new TypeError('fetch failed')))
    expect(sentence(await failure(api.jobs()))).toMatch(/does not answer/)
    answer(() => new Response('<html>', { status: 502 }))
    expect(sentence(await failure(api.jobs()))).toMatch(/502/)
    answer(() => new Response(JSON.stringify([{ nothing: 1 }])))
    const odd = await failure(api.shoots())
    expect(odd).toBeInstanceOf(z.ZodError)
    expect(sentence(odd)).toMatch(/Reload the page/)
    expect(sentence('?')).toBe('Something went wrong.')
  })
})
