import type { Triple } from '../math'

const DEGREE = Math.PI / 180
const POW25_7 = 25 ** 7

/** Hue angle in degrees, 0..360; 0 for grey. */
function hueOf(b: number, a: number): number {
  if (a === 0 && b === 0) return 0
  const h = Math.atan2(b, a) / DEGREE
  return h < 0 ? h + 360 : h
}

/**
 * Colour difference CIEDE2000 between two CIE Lab colours, kL = kC = kH = 1 (Sharma, Wu and Dalal 2005, "The
 * CIEDE2000 color-difference formula: implementation notes").
 */
export function ciede2000([l1, a1, b1]: Triple, [l2, a2, b2]: Triple): number {
  const c1 = Math.sqrt(a1 * a1 + b1 * b1)
  const c2 = Math.sqrt(a2 * a2 + b2 * b2)
  const c7 = ((c1 + c2) / 2) ** 7
  const g = 0.5 * (1 - Math.sqrt(c7 / (c7 + POW25_7)))
  const ap1 = (1 + g) * a1
  const ap2 = (1 + g) * a2
  const cp1 = Math.sqrt(ap1 * ap1 + b1 * b1)
  const cp2 = Math.sqrt(ap2 * ap2 + b2 * b2)
  const h1 = hueOf(b1, ap1)
  const h2 = hueOf(b2, ap2)

  const grey = cp1 * cp2 === 0
  let dh = grey ? 0 : h2 - h1
  if (dh > 180) dh -= 360
  else if (dh < -180) dh += 360
  const dL = l2 - l1
  const dC = cp2 - cp1
  const dH = 2 * Math.sqrt(cp1 * cp2) * Math.sin((dh / 2) * DEGREE)

  const l = (l1 + l2) / 2
  const c = (cp1 + cp2) / 2
  let h = h1 + h2
  if (!grey) h = Math.abs(h1 - h2) <= 180 ? h / 2 : (h + (h < 360 ? 360 : -360)) / 2
  const t =
    1 -
    0.17 * Math.cos((h - 30) * DEGREE) +
    0.24 * Math.cos(2 * h * DEGREE) +
    0.32 * Math.cos((3 * h + 6) * DEGREE) -
    0.2 * Math.cos((4 * h - 63) * DEGREE)
  const turn = 30 * Math.exp(-(((h - 275) / 25) ** 2))
  const cp7 = c ** 7
  const rt = -Math.sin(2 * turn * DEGREE) * 2 * Math.sqrt(cp7 / (cp7 + POW25_7))
  const sl = 1 + (0.015 * (l - 50) ** 2) / Math.sqrt(20 + (l - 50) ** 2)
  const sc = 1 + 0.045 * c
  const sh = 1 + 0.015 * c * t
  const [x, y, z] = [dL / sl, dC / sc, dH / sh]
  return Math.sqrt(x * x + y * y + z * z + rt * y * z)
}
