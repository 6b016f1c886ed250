import { GRIP_RANGE, GRIPS, type Development, type Grip } from '@dunkelkammer/core'

type Tones = Development['steps']['tones']

/** A grip's wanted place on the scale, held between its neighbours. */
export function heldGrip(tones: Tones, grip: Grip, at: number): number {
  const i = GRIPS.indexOf(grip)
  const low = i > 0 ? tones[GRIPS[i - 1]].at + GRIP_RANGE.gap : GRIP_RANGE.from
  const high = i < GRIPS.length - 1 ? tones[GRIPS[i + 1]].at - GRIP_RANGE.gap : GRIP_RANGE.to
  return Math.min(Math.max(at, low), high)
}
