import { describe, expect, it } from 'vitest'
import { bulkName } from '../bulk'
import { readDevelopment } from './development'
import { MADE_BY, madeByIn, MOST_MADE_BY, readMadeBy, writeMadeBy } from './madeBy'

const development = readDevelopment({ steps: { exposure: { ev: 1.25 } }, strength: { exposure: 0.5 } })
const words = { delivery: 'Web „klein“', version: 'Evening' }
const none = () => undefined

describe('how a file was made', () => {
  it('is read from the file as it was written', () => {
    const text = writeMadeBy({ ...words, development }, none)!
    expect(text).toMatch(/^[A-Za-z0-9+/=]+$/)
    const around = (inner: string) =>
      new TextEncoder().encode(`ÿØÿá <x> <dk:mark>keep</dk:mark>${inner}</x> ÿÙ`)
    const found = madeByIn(around(MADE_BY.open + text + MADE_BY.close))!
    expect(found).toMatchObject(words)
    expect(found.development).toEqual(development)
    expect(madeByIn(around(''))).toBeUndefined()
    expect(madeByIn(around(MADE_BY.open + text))).toBeUndefined()
    expect(madeByIn(around(MADE_BY.open + text.slice(0, -9) + MADE_BY.close))).toBeUndefined()
  })

  it('takes along what was painted, and knows it by its content', () => {
    const bytes = Uint8Array.from({ length: 50 }, (_, i) => i * 5)
    const name = bulkName(bytes)
    const painted = {
      ...development,
      steps: { ...development.steps, patches: { patches: [{ path: name }] } },
    }
    const spoken = writeMadeBy({ ...words, development: painted as never }, (asked) =>
      asked === name ? bytes : undefined,
    )!
    // it is no patch that this reader takes: what does not fit is nothing, not half
    expect(readMadeBy(spoken)).toBeUndefined()
    const asked: string[] = []
    writeMadeBy({ ...words, development: painted as never }, (n) => void asked.push(n) as undefined)
    expect(asked).toEqual([name])
  })

  it('is left out where it is too much for a file, and nothing else is taken for it', () => {
    const noise = Array.from({ length: MOST_MADE_BY }, (_, i) => Math.imul(i, 2654435761) >>> 0).join(' ')
    expect(writeMadeBy({ ...words, version: noise, development }, none)).toBeUndefined()
    for (const wrong of ['', 'AAAA', '%%%', 'x'.repeat(MOST_MADE_BY + 1), btoa('{"kind":"other"}')])
      expect(readMadeBy(wrong)).toBeUndefined()
  })
})
