import { describe, expect, it } from 'vitest'
import { sidecarAmong, sidecarPlace } from './sidecarName'

describe('the sidecar of a file', () => {
  it.each<[string, string[], string | undefined]>([
    ['a.dng', ['a.dng', 'a.xmp'], 'a.xmp'],
    ['A.DNG', ['A.DNG', 'a.XMP'], 'a.XMP'],
    ['a.jpg', ['a.jpg', 'a.jpg.xmp', 'a.xmp'], 'a.jpg.xmp'],
    ['a.jpg', ['a.jpg', 'a.Jpg.Xmp'], 'a.Jpg.Xmp'],
    // of two that share a name it is the raw file's, of two pictures that of the first
    ['a.dng', ['a.jpg', 'a.dng', 'a.xmp'], 'a.xmp'],
    ['a.jpg', ['a.jpg', 'a.dng', 'a.xmp'], undefined],
    ['a.jpg', ['a.tif', 'a.jpg', 'a.xmp'], 'a.xmp'],
    ['a.tif', ['a.tif', 'a.jpg', 'a.xmp'], undefined],
    // what is no picture shares nothing
    ['a.jpg', ['a.jpg', 'a.txt', 'a.xmp'], 'a.xmp'],
    ['a.b.jpg', ['a.b.jpg', 'a.xmp'], undefined],
    ['a.jpg', ['a.jpg'], undefined],
  ])('%s among %j is %s', (file, names, found) => expect(sidecarAmong(file, names)).toBe(found))

  it.each<[string, string[], string]>([
    ['a.dng', ['a.dng'], 'a.xmp'],
    ['a.dng', ['a.dng', 'A.XMP'], 'A.XMP'],
    ['a.jpg', ['a.jpg', 'a.jpg.xmp'], 'a.jpg.xmp'],
    // written where it was read, and nobody else's written over
    ['a.dng', ['a.jpg', 'a.dng', 'a.xmp'], 'a.xmp'],
    ['a.jpg', ['a.jpg', 'a.dng', 'a.xmp'], 'a.jpg.xmp'],
    ['a.jpg', ['a.jpg', 'a.dng'], 'a.jpg.xmp'],
    ['a.dng', ['a.jpg', 'a.dng'], 'a.dng.xmp'],
  ])('%s among %j is written as %s', (file, names, place) => expect(sidecarPlace(file, names)).toBe(place))
})
