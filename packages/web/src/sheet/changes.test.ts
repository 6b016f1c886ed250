import type { FrameChange, ShootPage } from '@dunkelkammer/contract'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { frame } from '../../test/frames'

vi.stubGlobal('addEventListener', () => undefined)
const { api, ServerProblem } = await import('../api/client')
const { queryClient, unsettled } = await import('../api/queries')
const { changeFrames, doAgain, emptyBin, takeBack } = await import('./changes')

const SHOOT = frame(0).shootId
const KEY = ['shoot', SHOOT]
const page = () => queryClient.getQueryData<ShootPage>(KEY)!
const ratings = () => page().frames.map((f) => f.rating)
const idle = () => new Promise((r) => setTimeout(r))

let sent: FrameChange[][]
let answer: () => Promise<{ count: number }>
beforeEach(() => {
  sent = []
  answer = () => Promise.resolve({ count: 1 })
  queryClient.setQueryData<ShootPage>(KEY, {
    shoot: {} as never,
    at: 1,
    frames: [frame(1, { rating: 1 }), frame(2, { rating: 2 }), frame(3, { mark: 'drop' })],
  })
  vi.spyOn(api, 'changeFrames').mockImplementation((changes) => {
    sent.push([...changes])
    return answer()
  })
  while (takeBack(SHOOT).length);
  sent.length = 0
  queryClient.setQueryData<ShootPage>(KEY, {
    shoot: {} as never,
    at: 1,
    frames: [frame(1, { rating: 1 }), frame(2, { rating: 2 }), frame(3, { mark: 'drop' })],
  })
})

describe('changes on the sheet', () => {
  it('show at once, go to the server once, and are taken back each to what it was', async () => {
    const [a, b] = page().frames
    changeFrames(SHOOT, [a, b], { rating: 5 }, 'five')
    expect(ratings()).toEqual([5, 5, 0])
    await idle()
    expect(sent).toEqual([[{ ids: [a.id, b.id], rating: 5 }]])
    expect(takeBack(SHOOT)).not.toEqual([])
    expect(ratings()).toEqual([1, 2, 0])
    await idle()
    expect(sent[1]).toEqual([
      { ids: [a.id], rating: 1 },
      { ids: [b.id], rating: 2 },
    ])
    expect(takeBack(SHOOT)).toEqual([])
  })

  it('are done again in their order, until something else is done instead', async () => {
    const [a, b] = page().frames
    changeFrames(SHOOT, [a], { rating: 5 }, 'five')
    changeFrames(SHOOT, [b], { mark: 'keep' }, 'kept')
    takeBack(SHOOT)
    takeBack(SHOOT)
    expect(doAgain(SHOOT)).toEqual([a.id])
    expect(ratings()).toEqual([5, 2, 0])
    expect(page().frames[1].mark).toBe('none')
    expect(doAgain(SHOOT)).toEqual([b.id])
    expect(page().frames[1].mark).toBe('keep')
    expect(doAgain(SHOOT)).toEqual([])
    await idle()
    expect(sent.slice(-2)).toEqual([[{ ids: [a.id], rating: 5 }], [{ ids: [b.id], mark: 'keep' }]])
    // what was done again is taken back again
    expect(takeBack(SHOOT)).toEqual([b.id])
    changeFrames(SHOOT, [a], { rating: 3 }, 'three')
    expect(doAgain(SHOOT)).toEqual([])
    expect(page().frames[1].mark).toBe('none')
  })

  it('are taken back the last first, and those of other shoots stay', async () => {
    const [a] = page().frames
    changeFrames(SHOOT, [], { rating: 5 }, 'nothing')
    expect(takeBack(SHOOT)).toEqual([])
    changeFrames(SHOOT, [a], { mark: 'keep' }, 'kept')
    changeFrames(SHOOT, [page().frames[0]], { rating: 4 }, 'four')
    changeFrames('another', [a], { rating: 5 }, 'elsewhere')
    takeBack(SHOOT)
    expect(page().frames[0]).toMatchObject({ rating: 1, mark: 'keep' })
    takeBack(SHOOT)
    expect(page().frames[0]).toMatchObject({ rating: 1, mark: 'none' })
    expect(takeBack(SHOOT)).toEqual([])
    expect(takeBack('another')).not.toEqual([])
    await idle()
    // what was not changed is not sent back
    expect(sent.at(-2)).toEqual([{ ids: [a.id], mark: 'none' }])
  })

  it('that cannot be taken back on the server are looked up anew', async () => {
    const [a] = page().frames
    changeFrames(SHOOT, [a], { rating: 4 }, 'four')
    await idle()
    const asked = vi.spyOn(queryClient, 'invalidateQueries')
    answer = () => Promise.reject(new ServerProblem('away', 'The server does not answer.'))
    takeBack(SHOOT)
    await idle()
    expect(asked).toHaveBeenCalledWith({ queryKey: KEY })
  })

  it('made for each frame are told together where they are the same', async () => {
    const frames = page().frames
    changeFrames(SHOOT, frames, (f) => ({ text: { title: f.rating ? 'rated' : 'not' } }), 'titles')
    await idle()
    expect(sent[0]).toEqual([
      { ids: [frames[0].id, frames[1].id], text: { title: 'rated' } },
      { ids: [frames[2].id], text: { title: 'not' } },
    ])
    takeBack(SHOOT)
    expect(page().frames.map((f) => f.text.title)).toEqual(['', '', ''])
  })

  it('that the server refuses are put back, and cannot be taken back again', async () => {
    answer = () => Promise.reject(new ServerProblem('away', 'The server does not answer.'))
    changeFrames(SHOOT, [page().frames[0]], { rating: 4, mark: 'keep' }, 'four')
    expect(page().frames[0]).toMatchObject({ rating: 4, mark: 'keep' })
    await idle()
    expect(page().frames[0]).toMatchObject({ rating: 1, mark: 'none' })
    expect(takeBack(SHOOT)).toEqual([])
  })

  it('arrive in the order in which they were made, and hold news back until then', async () => {
    const release: (() => void)[] = []
    answer = () => new Promise((done) => release.push(() => done({ count: 1 })))
    const [a] = page().frames
    changeFrames(SHOOT, [a], { rating: 3 }, 'three')
    changeFrames(SHOOT, [page().frames[0]], { rating: 4 }, 'four')
    await idle()
    expect(sent).toHaveLength(1)
    expect(unsettled.size).toBe(2)
    release[0]()
    await idle()
    expect(sent.map(([c]) => c.rating)).toEqual([3, 4])
    release[1]()
    await idle()
    expect(unsettled.size).toBe(0)
  })

  it('end with the bin: what was dropped is gone, and nothing can be taken back', async () => {
    vi.spyOn(api, 'emptyBin').mockResolvedValue({ count: 1 })
    changeFrames(SHOOT, [page().frames[0]], { rating: 2 }, 'two')
    await emptyBin(SHOOT)
    expect(page().frames).toHaveLength(2)
    expect(takeBack(SHOOT)).toEqual([])
  })
})
