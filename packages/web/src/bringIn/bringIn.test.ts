import { describe, expect, it, vi } from 'vitest'
import { frame } from '../../test/frames'
import { focalLine, placeLine, takenLine, aboutRows } from '../shell/about'

vi.stubGlobal('addEventListener', () => undefined)
const { sorted } = await import('./store')
const { keywordsOf } = await import('./BringInDialog')
const { progressOf } = await import('./BringInLine')
const { withNews } = await import('../api/queries')

const file = (name: string) => new File(['x'], name)

describe('bringing in', () => {
  it('takes pictures of every kind and their sidecars, and leaves the rest', () => {
    const { pictures, sidecars } = sorted(
      ['a.DNG', 'a.jpg', 'b.jpeg', 'notes.txt', 'a.xmp', 'b.jpeg.XMP', 'c.avif', '.DS', 'd.tif.XMP'].map(
        file,
      ),
    )
    expect(pictures.map((f) => f.name)).toEqual(['a.DNG', 'a.jpg', 'b.jpeg', 'c.avif'])
    const pairs = [...sidecars].map(([picture, sidecar]) => [picture.name, sidecar.name])
    expect(pairs).toEqual([
      ['a.DNG', 'a.xmp'],
      ['b.jpeg', 'b.jpeg.XMP'],
    ])
    // a single file that was picked is tried whatever it is called
    expect(sorted([file('strange')]).pictures).toHaveLength(1)
  })

  it('reads keywords', () => {
    expect(keywordsOf(' mill, canal ;mill\n früh,')).toEqual(['mill', 'canal', 'früh'])
    expect(keywordsOf('')).toEqual([])
  })

  it('says count, rate and what is left', () => {
    const b = {
      ...{ shootId: '', shootName: '', all: 100, done: 25, added: 25, known: 0, restored: 0 },
      ...{ bytes: 1000, bytesDone: 200, problems: [], began: 0, cancelled: false },
    }
    expect(progressOf(b, 10000)).toBe('25 of 100, 2.5 a second, 40 s left')
    expect(progressOf({ ...b, bytesDone: 10 }, 10000)).toBe('25 of 100, 2.5 a second, 17 min left')
    expect(progressOf({ ...b, done: 0 }, 10000)).toBe('0 of 100')
  })
})

describe('news', () => {
  it('replaces what is known, adds what is new, and leaves the rest as it is', () => {
    const [a, b] = [frame(1), frame(2)]
    const page = { shoot: {} as never, frames: [a, b], at: 3 }
    const next = withNews(page, [frame(2, { rating: 4 }), frame(3)], 7)
    expect(next.at).toBe(7)
    expect(next.frames.map((f) => f.rating)).toEqual([0, 4, 0])
    expect(next.frames[0]).toBe(a)
  })
})

describe('what is known of a frame', () => {
  it('is said with units', () => {
    expect(takenLine('2026-05-14T06:52:11.310+02:00')).toBe('2026-05-14  06:52:11.310  UTC+02:00')
    expect(takenLine('2026-05-14T06:52:11')).toBe('2026-05-14  06:52:11')
    expect(placeLine({ north: -52.0714, east: 4.9031, height: 2.4 })).toBe('52.0714° S  4.9031° E  2 m')
    expect(focalLine({ orientation: 1, focalLength: 80, focalLength35: 122 })).toBe(
      '80 mm, as 122 mm (crop 1.52)',
    )
    expect(focalLine({ orientation: 1, focalLength: 28 })).toBe('28 mm')
  })

  it('leaves out what is not known', () => {
    const rows = aboutRows(frame(1)).map(([name]) => name)
    expect(rows).toEqual(['Camera', 'Taken', 'Orientation', 'Size', 'File'])
  })
})
