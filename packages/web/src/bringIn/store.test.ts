import { beforeEach, describe, expect, it, vi } from 'vitest'
import { frame } from '../../test/frames'

vi.stubGlobal('addEventListener', () => undefined)
const { api, ServerProblem } = await import('../api/client')
const { bringIn, cancelBringingIn, isBringingIn, putAway, bringingIn } = await import('./store')

const shoot = { id: frame(0).shootId, name: 'Test' }
const file = (name: string, text = name) => new File([text], name)
const ended = () => vi.waitFor(() => expect(isBringingIn()).toBe(false))

const state = () => bringingIn()!

let uploaded: string[]
beforeEach(() => {
  putAway()
  uploaded = []
  vi.restoreAllMocks()
  vi.spyOn(api, 'setAtImport').mockResolvedValue({} as never)
  vi.spyOn(api, 'upload').mockImplementation((_, f) => {
    uploaded.push(f.name)
    return Promise.resolve({
      frame: frame(uploaded.length),
      known: f.name.startsWith('known'),
      restored: false,
    })
  })
})

describe('files of this computer', () => {
  it('come in with what is written into them, known ones counted, sidecars sent along', async () => {
    const sidecars = vi.spyOn(api, 'sendSidecar').mockResolvedValue(['It is damaged.'])
    const files = ['a.dng', 'known.dng', 'b.jpg', 'a.xmp', 'known.xmp', 'notes.txt'].map((n) => file(n))
    expect(bringIn(shoot, files, { creator: 'M' })).toBeUndefined()
    await ended()
    expect(api.setAtImport).toHaveBeenCalledWith(shoot.id, { creator: 'M' })
    expect(uploaded.sort()).toEqual(['a.dng', 'b.jpg', 'known.dng'])
    expect(state()).toMatchObject({ all: 3, done: 3, added: 2, known: 1, cancelled: false })
    expect(state()!.problems).toEqual(['a.xmp: It is damaged.'])
    // a frame that was there already keeps its words
    expect(sidecars.mock.calls.map(([, xmp]) => (xmp as File).name)).toEqual(['a.xmp'])
  })

  it('that cannot be read are named and do not stop the rest', async () => {
    vi.mocked(api.upload).mockImplementation((_, f) =>
      f.name === 'bad.dng'
        ? Promise.reject(new ServerProblem('damaged', 'This file is damaged: so it is.'))
        : Promise.resolve({ frame: frame(1), known: false, restored: false }),
    )
    bringIn(shoot, [file('a.dng'), file('bad.dng'), file('c.dng')])
    await ended()
    expect(state()).toMatchObject({ added: 2, problems: ['bad.dng: This file is damaged: so it is.'] })
  })

  it('on a card that was pulled out are told from a server that does not answer', async () => {
    const away = new ServerProblem('away', 'The server does not answer.')
    vi.mocked(api.upload).mockRejectedValue(away)
    const pulled = file('pulled.dng')
    pulled.slice = () => ({ arrayBuffer: () => Promise.reject(new Error('gone')) }) as never
    bringIn(shoot, [pulled, file('there.dng')])
    await ended()
    expect(state().problems.sort()).toEqual([
      'pulled.dng: It can no longer be read; was the card taken out?',
      'there.dng: The server does not answer.',
    ])
  })

  it('can be cancelled: what is on its way is stopped, the rest is not begun', async () => {
    vi.mocked(api.upload).mockImplementation(
      (_, f, signal) =>
        new Promise((done, fail) => {
          uploaded.push(f.name)
          if (uploaded.length === 1) return done({ frame: frame(1), known: false, restored: false })
          signal!.addEventListener('abort', () => fail(new DOMException('', 'AbortError')))
        }),
    )
    bringIn(
      shoot,
      ['a', 'b', 'c', 'd', 'e'].map((n) => file(`${n}.dng`)),
    )
    await vi.waitFor(() => expect(uploaded).toHaveLength(3))
    expect(bringIn(shoot, [file('more.dng')])).toMatch(/coming in already/)
    cancelBringingIn()
    await ended()
    expect(state()).toMatchObject({ all: 5, done: 1, added: 1, cancelled: true, problems: [] })
    expect(uploaded).toHaveLength(3)
  })

  it('without a picture among them are refused in words', () => {
    expect(bringIn(shoot, [file('a.txt'), file('b.doc')])).toMatch(/no pictures/)
    expect(bringIn(shoot, [])).toMatch(/no pictures/)
    expect(isBringingIn()).toBe(false)
  })
})
