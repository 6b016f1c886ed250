import { adaptation, D50 } from './chromaticity'
import { ascii, CONNECTION_WHITE, fixed, packProfile, u16, u32, xyzTag } from './iccWrite'
import { multiply } from '../math'
import type { RgbSpace, TransferCurve } from './spaces'

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
  return packProfile(0x04300000, 'mntr', 'XYZ ', [
    ['desc', textTag(label)],
    ['cprt', textTag('No copyright, use freely')],
    ['wtpt', xyzTag(CONNECTION_WHITE)],
    ['chad', [...ascii('sf32'), ...u32(0), ...adapted.flatMap(fixed)]],
    ['rXYZ', xyzTag([m[0], m[3], m[6]])],
    ['gXYZ', xyzTag([m[1], m[4], m[7]])],
    ['bXYZ', xyzTag([m[2], m[5], m[8]])],
    ['rTRC', trc],
    ['gTRC', trc],
    ['bTRC', trc],
  ])
}
