import { adaptation, D50, whiteXyz } from './chromaticity'
import { multiply } from '../math'
import type { RgbSpace, TransferCurve } from './spaces'

const u32 = (v: number) => [(v >>> 24) & 255, (v >>> 16) & 255, (v >>> 8) & 255, v & 255]
const u16 = (v: number) => [(v >>> 8) & 255, v & 255]
const fixed = (v: number) => u32(Math.round(v * 65536))
const ascii = (s: string) => [...s].map((c) => c.charCodeAt(0))

const xyzTag = (v: readonly number[]) => [...ascii('XYZ '), ...u32(0), ...v.flatMap(fixed)]

function textTag(text: string): number[] {
  return [
    ...ascii('mluc'),
    ...u32(0),
    ...u32(1),
    ...u32(12),
    ...ascii('enUS'),
    ...u32(text.length * 2),
    ...u32(28),
    ...[...text].flatMap((c) => u16(c.charCodeAt(0))),
  ]
}

/** Encoded to linear as an ICC parametric curve: type 0 for a plain power, 3 with a linear start. */
function curveTag(c: TransferCurve): number[] {
  const head = [...ascii('para'), ...u32(0)]
  if (!isFinite(c.cut)) return [...head, ...u16(0), ...u16(0), ...fixed(1)]
  if (c.cut === 0) return [...head, ...u16(0), ...u16(0), ...fixed(1 / c.p)]
  return [
    ...head,
    ...u16(3),
    ...u16(0),
    ...[1 / c.p, 1 / c.a, c.b / c.a, 1 / c.slope, c.cut * c.slope].flatMap(fixed),
  ]
}

/**
 * A version 4 matrix/curve display profile (ICC.1:2010) of an RGB space.
 * @param curve the encoding, the space's own by default; LINEAR for linear files
 */
export function iccProfile(space: RgbSpace, curve = space.curve, label = space.label): Uint8Array {
  const adapted = adaptation(space.white, D50)
  const m = multiply(adapted, space.toXyz)
  const trc = curveTag(curve)
  const tags: [string, number[]][] = [
    ['desc', textTag(label)],
    ['cprt', textTag('No copyright, use freely')],
    ['wtpt', xyzTag(whiteXyz(D50))],
    ['chad', [...ascii('sf32'), ...u32(0), ...adapted.flatMap(fixed)]],
    ['rXYZ', xyzTag([m[0], m[3], m[6]])],
    ['gXYZ', xyzTag([m[1], m[4], m[7]])],
    ['bXYZ', xyzTag([m[2], m[5], m[8]])],
    ['rTRC', trc],
    ['gTRC', trc],
    ['bTRC', trc],
  ]
  const body: number[] = []
  const table: number[] = []
  const placed = new Map<number[], number>()
  const start = 128 + 4 + tags.length * 12
  for (const [name, data] of tags) {
    let at = placed.get(data)
    if (at === undefined) {
      at = start + body.length
      placed.set(data, at)
      body.push(...data)
      while (body.length % 4) body.push(0)
    }
    table.push(...ascii(name), ...u32(at), ...u32(data.length))
  }
  const size = start + body.length
  const header = [
    ...u32(size),
    ...u32(0),
    ...u32(0x04300000),
    ...ascii('mntrRGB XYZ '),
    ...u16(2026),
    ...u16(1),
    ...u16(1),
    ...u16(0),
    ...u16(0),
    ...u16(0),
    ...ascii('acsp'),
    ...u32(0),
    ...u32(0),
    ...u32(0),
    ...u32(0),
    ...u32(0),
    ...u32(0),
    ...u32(0),
    ...whiteXyz(D50).flatMap(fixed),
    ...u32(0),
  ]
  while (header.length < 128) header.push(0)
  return Uint8Array.from([...header, ...u32(tags.length), ...table, ...body])
}
