import { describe, expect, it } from 'vitest'
import { random } from '../../test/bench'
import { CubeError, readCube, writeCube } from './cube'

const grid = (size: number, f: (r: number, g: number, b: number) => number[]) => {
  const out: string[] = []
  for (let b = 0; b < size; b++)
    for (let g = 0; g < size; g++)
      for (let r = 0; r < size; r++) out.push(f(r / (size - 1), g / (size - 1), b / (size - 1)).join(' '))
  return out.join('\n')
}

describe('.cube tables', () => {
  it('are read with red running fastest, notes and blank lines left out', () => {
    const text = `# made up\nTITLE "Reeds at noon"\n\nLUT_3D_SIZE 3\nSOME_NOTE 5\n${grid(3, (r, g, b) => [r, g / 2, b / 4])}\n`
    const { title, size, colours } = readCube(text)
    expect(title).toBe('Reeds at noon')
    expect(size).toBe(3)
    expect([...colours.slice(3, 6)]).toEqual([0.5, 0, 0])
    expect([...colours.slice(9, 12)]).toEqual([0, 0.25, 0])
    expect([...colours.slice(27, 30)]).toEqual([0, 0, 0.125])
  })

  it('of one dimension bend each channel by its own column', () => {
    const lines = Array.from({ length: 129 }, (_, i) => `${(i / 128) ** 2} ${i / 128} ${Math.sqrt(i / 128)}`)
    const { size, colours } = readCube(`LUT_1D_SIZE 129\n${lines.join('\n')}`)
    const at = (r: number, g: number, b: number) => (b * size + g) * size + r
    const middle = (size - 1) / 2
    const k = 3 * at(middle, middle, middle)
    expect(colours[k]).toBeCloseTo(0.25, 4)
    expect(colours[k + 1]).toBeCloseTo(0.5, 4)
    expect(colours[k + 2]).toBeCloseTo(Math.sqrt(0.5), 4)
  })

  it('of another range are brought to 0..1', () => {
    const text = `LUT_3D_SIZE 2\nDOMAIN_MIN 0 0 0\nDOMAIN_MAX 2 2 2\n${grid(2, (r, g, b) => [2 * r, 2 * g, 2 * b])}`
    const { colours } = readCube(text)
    // what the table leaves as it is stays as it is
    expect([...colours.slice(-3)]).toEqual([1, 1, 1])
  })

  it('come back as they were written', () => {
    const next = random(5)
    const table = { title: 'Back', size: 5, colours: Float32Array.from({ length: 375 }, () => next()) }
    const back = readCube(writeCube(table))
    expect(back.title).toBe('Back')
    back.colours.forEach((v, i) => expect(v).toBeCloseTo(table.colours[i], 5))
  })

  it.each([
    ['nothing', '', /size/],
    ['words', 'once upon a time', /size/],
    ['too few lines', 'LUT_3D_SIZE 3\n0 0 0', /1 lines .* 27/],
    ['too many lines', `LUT_3D_SIZE 2\n${'0 0 0\n'.repeat(9)}`, /9 lines/],
    ['an absurd size', 'LUT_3D_SIZE 9999\n', /9999/],
    ['a broken number', 'LUT_3D_SIZE 2\n0 0 0.x', /line 2/],
    ['a short line', 'LUT_3D_SIZE 2\n0 0', /line 2/],
    ['an empty range', 'LUT_3D_SIZE 2\nDOMAIN_MAX 0 0 0\n0 0 0', /range/],
    ['two tables', 'LUT_3D_SIZE 2\nLUT_1D_SIZE 2', /more than one/],
  ])('that hold %s are refused in words', (_, text, words) => {
    expect(() => readCube(text)).toThrow(CubeError)
    expect(() => readCube(text)).toThrow(words)
  })
})
