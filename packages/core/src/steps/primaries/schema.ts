import { numberField, shareField } from '../field'
import { z } from 'zod'

const primary = (name: string) =>
  z
    .object({
      /** Degrees that the primary is turned around white, from red toward green toward blue. */
      turn: numberField(-30, 30, 0, { label: `${name} turned`, unit: '°', step: 0.5 }),
      /** Its distance from white, as a change of it. */
      spread: shareField(-0.5, 0.5, 0, `${name} spread`, 1),
    })
    .prefault({})
export const PRIMARIES = ['red', 'green', 'blue'] as const

export const PrimariesSchema = z.object({
  red: primary('Red'),
  green: primary('Green'),
  blue: primary('Blue'),
})
export type PrimariesSettings = z.infer<typeof PrimariesSchema>
