import { D50, labFromXyz, whiteXyz, type Triple } from '@dunkelkammer/core'

/**
 * A made-up printer with matt cotton paper: light returned by the eight overprints of its inks, mixed by the area that
 * each covers (Neugebauer 1937), dots growing as they do on soft paper.
 */

/** CIE L*a*b* (D50) of the overprints, device red, green and blue each off or on: black first, bare paper last. */
const OVERPRINTS: readonly Triple[] = [
  [17, 0.5, 0.5],
  [46, 58, 38],
  [48, -55, 26],
  [88, -5, 78],
  [28, 16, -40],
  [47, 64, -6],
  [55, -34, -40],
  [95.5, 0.4, -1.6],
]
export const PAPER = OVERPRINTS[7]
export const INK_BLACK = OVERPRINTS[0]
const GROWTH = 1.9

const white = whiteXyz(D50)
const cubed = (f: number) => (f > 6 / 29 ? f ** 3 : 3 * (6 / 29) ** 2 * (f - 4 / 29))
/** XYZ of CIE L*a*b* under D50, white Y = 1. */
export const xyzOf = ([l, a, b]: Triple): Triple => {
  const y = (l + 16) / 116
  return [white[0] * cubed(y + a / 500), white[1] * cubed(y), white[2] * cubed(y - b / 200)]
}
const CORNERS = OVERPRINTS.map(xyzOf)

/** XYZ of a print, D50, the perfect diffuser Y = 1. @param device red, green, blue sent to the printer, 0..1 */
export function printed(device: Triple): Triple {
  const [r, g, b] = device.map((v) => Math.max(v, 0) ** GROWTH)
  const out = [0, 0, 0]
  for (let i = 0; i < 8; i++) {
    const share = (i & 1 ? r : 1 - r) * (i & 2 ? g : 1 - g) * (i & 4 ? b : 1 - b)
    for (let c = 0; c < 3; c++) out[c] += share * CORNERS[i][c]
  }
  return out as unknown as Triple
}

/** L*a*b* of a print as an eye used to the paper sees it: paper white is L* 100. */
export const printedLab = (device: Triple): Triple => {
  const paper = CORNERS[7]
  return labFromXyz(printed(device).map((v, c) => (v / paper[c]) * white[c]) as unknown as Triple)
}

const COARSE = 9
const coarse: { device: Triple; lab: Triple }[] = []
function coarseGrid() {
  if (coarse.length === 0)
    for (let i = 0; i < COARSE ** 3; i++) {
      const at = [i % COARSE, Math.floor(i / COARSE) % COARSE, Math.floor(i / COARSE ** 2)]
      const device = at.map((v) => v / (COARSE - 1)) as unknown as Triple
      coarse.push({ device, lab: printedLab(device) })
    }
  return coarse
}

const distance = (p: Triple, q: Triple) => (p[0] - q[0]) ** 2 + (p[1] - q[1]) ** 2 + (p[2] - q[2]) ** 2

/** What to send to the printer for a colour, the nearest that it has: found by steps that get smaller. */
export function deviceFor(lab: Triple): Triple {
  let best = coarseGrid().reduce((a, b) => (distance(b.lab, lab) < distance(a.lab, lab) ? b : a))
  for (let step = 0.5 / (COARSE - 1); step > 0.001;) {
    let found = best
    for (let way = 0; way < 6; way++) {
      const device = best.device.map((v, c) =>
        c === way >> 1 ? Math.min(Math.max(v + (way & 1 ? step : -step), 0), 1) : v,
      ) as unknown as Triple
      const there = { device, lab: printedLab(device) }
      if (distance(there.lab, lab) < distance(found.lab, lab)) found = there
    }
    if (found === best) step /= 2
    best = found
  }
  return best.device
}
