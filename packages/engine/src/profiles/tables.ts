import {
  ciede2000,
  iccProfile,
  LINEAR,
  RawError,
  spaces,
  TABLE_ENTRY,
  TABLE_SIDE,
  TABLE_SPACE,
  type Intent,
  type OutputTable,
  type SpaceId,
} from '@dunkelkammer/core'
import { createHash } from 'node:crypto'
import type { Lcms } from 'lcms-wasm'
import { FLOATS, openFrom, withProfile } from './profile'

/** How colours come into a device's gamut. */
export interface Conversion {
  intent: Intent
  /** Black of the picture becomes black of the device. */
  blackPoint: boolean
}

const INTENTS: Readonly<Record<Intent, number>> = { perceptual: 0, relative: 1, saturation: 2, absolute: 3 }
// every entry is computed for itself, as exactly as the profile says
const FLAGS = 0x0040 | 0x0100
const BLACK_POINT = 0x2000

const ENTRIES = TABLE_SIDE ** 3

/** Tables made last; a hundred frames go through the same one. */
const made = new Map<string, Promise<OutputTable>>()
const MOST_MADE = 4

function once(id: string, make: () => Promise<Float32Array>): Promise<OutputTable> {
  let table = made.get(id)
  if (!table) {
    table = make().then((values) => ({ id, values }))
    table.catch(() => made.delete(id))
    for (const old of made.keys()) if (made.size >= MOST_MADE) made.delete(old)
    made.set(id, table)
  }
  return table
}

const nameOf = (bytes: Uint8Array, ...how: unknown[]) =>
  [createHash('sha256').update(bytes).digest('hex').slice(0, 16), ...how].join(' ')

/**
 * The table to a profile's encoded RGB.
 * @throws RawError where the profile cannot be used, or is not for RGB
 */
export const fileTable = (bytes: Uint8Array, { intent, blackPoint }: Conversion): Promise<OutputTable> =>
  once(nameOf(bytes, intent, blackPoint), () =>
    withProfile(bytes, (lcms, profile, facts) => {
      if (facts.colours !== 'RGB')
        throw new RawError(
          'unsupported',
          `Files are written in RGB; the profile “${facts.name}” is for ${facts.colours} colours.`,
        )
      const own = openFrom(lcms, iccProfile(TABLE_SPACE))
      try {
        const flags = FLAGS | (blackPoint ? BLACK_POINT : 0)
        return entries(convert(lcms, grid(), own, FLOATS.RGB, profile, FLOATS.RGB, INTENTS[intent], flags))
      } finally {
        lcms.cmsCloseProfile(own)
      }
    }),
  )

/**
 * The table to linear colours of a display that shows what a device would: there and back again. Its fourth number is
 * how far each colour lies outside of the device's gamut.
 * @param paperWhite whether the device's white and black are shown as they are, not as the display's own
 * @throws RawError where the profile cannot be used
 */
export const proofTable = (
  bytes: Uint8Array,
  { intent, blackPoint, paperWhite }: Conversion & { paperWhite: boolean },
  display: SpaceId,
): Promise<OutputTable> =>
  once(nameOf(bytes, intent, blackPoint, paperWhite, display), () =>
    withProfile(bytes, (lcms, profile, { colours }) => {
      const own = openFrom(lcms, iccProfile(TABLE_SPACE))
      const shown = openFrom(lcms, iccProfile(spaces[display], LINEAR))
      const lab = lcms.cmsCreateLab4Profile()
      try {
        const black = blackPoint ? BLACK_POINT : 0
        const from = grid()
        const format = FLOATS[colours]
        const device = convert(lcms, from, own, FLOATS.RGB, profile, format, INTENTS[intent], FLAGS | black)
        const back = paperWhite ? INTENTS.absolute : INTENTS.relative
        const flags = FLAGS | (paperWhite ? 0 : BLACK_POINT)
        const out = convert(lcms, device, profile, format, shown, FLOATS.RGB, back, flags)
        // what the device has no colour for is told by going there and back with nothing but that in the way
        const there = convert(
          lcms,
          from,
          own,
          FLOATS.RGB,
          profile,
          format,
          INTENTS.relative,
          FLAGS | BLACK_POINT,
        )
        const seen = convert(
          lcms,
          there,
          profile,
          format,
          lab,
          FLOATS.Lab,
          INTENTS.relative,
          FLAGS | BLACK_POINT,
        )
        const meant = convert(lcms, from, own, FLOATS.RGB, lab, FLOATS.Lab, INTENTS.relative, FLAGS)
        return entries(out, (i) => ciede2000(triple(seen, i), triple(meant, i)))
      } finally {
        for (const opened of [own, shown, lab]) lcms.cmsCloseProfile(opened)
      }
    }),
  )

const triple = (values: Float32Array, i: number) =>
  [values[i * 3], values[i * 3 + 1], values[i * 3 + 2]] as const

/** Encoded colours of the table's grid, red running fastest. */
function grid(): Float32Array {
  const out = new Float32Array(ENTRIES * 3)
  const top = TABLE_SIDE - 1
  for (let b = 0, at = 0; b <= top; b++)
    for (let g = 0; g <= top; g++)
      for (let r = 0; r <= top; r++) {
        out[at++] = r / top
        out[at++] = g / top
        out[at++] = b / top
      }
  return out
}

function convert(
  lcms: Lcms,
  values: Float32Array,
  from: number,
  fromFormat: number,
  to: number,
  toFormat: number,
  intent: number,
  flags: number,
): Float32Array {
  const transform = lcms.cmsCreateTransform(from, fromFormat, to, toFormat, intent, flags)
  if (!transform) throw new RawError('unsupported', 'This colour profile has no way for what is asked of it.')
  try {
    return lcms.cmsDoTransform(transform, values, ENTRIES)
  } finally {
    lcms.cmsDeleteTransform(transform)
  }
}

/** Colours held to 0..1, and beside each how far it is away. */
function entries(rgb: Float32Array, away: (i: number) => number = () => 0): Float32Array {
  const out = new Float32Array(ENTRIES * TABLE_ENTRY)
  for (let i = 0; i < ENTRIES; i++) {
    for (let c = 0; c < 3; c++) out[i * TABLE_ENTRY + c] = Math.min(Math.max(rgb[i * 3 + c], 0), 1)
    out[i * TABLE_ENTRY + 3] = away(i)
  }
  return out
}
