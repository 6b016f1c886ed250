import { INTENTS, SPACE_IDS } from '@dunkelkammer/core'
import { z } from 'zod'

/** ICC profiles that the user has brought. */

/** By the hash of its bytes. */
export const ProfileIdSchema = z.string().regex(/^[0-9a-f]{64}$/)

export const ColourProfileSchema = z.object({
  id: ProfileIdSchema,
  name: z.string(),
  colours: z.enum(['RGB', 'CMYK', 'grey']),
  device: z.enum(['display', 'printer', 'space']),
})
export type ColourProfile = z.infer<typeof ColourProfileSchema>

const flag = z.enum(['yes', 'no']).transform((v) => v === 'yes')

/** How a device is shown on a display. */
export const ProofQuerySchema = z.object({
  intent: z.enum(INTENTS),
  blackPoint: flag,
  paperWhite: flag,
  display: z.enum(SPACE_IDS),
})
export type ProofQuery = z.input<typeof ProofQuerySchema>
