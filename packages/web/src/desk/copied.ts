import { AreaSchema, PortionSchema } from '@dunkelkammer/core'
import { z } from 'zod'
import { browserAtom } from './browserAtom'

/** An area that was copied, with a mask of its own, and the frame that it comes from. */
const CopiedAreaSchema = z.object({ area: AreaSchema, frameId: z.string() })

/** The area that was copied last, to be pasted on the bench or the sheet. */
export const copiedAreaAtom = browserAtom('copied area', CopiedAreaSchema)

const CopiedSettingsSchema = z.object({ portion: PortionSchema, fileName: z.string() })
/** Settings that were copied, and the frame that they come from. */
export type CopiedSettings = z.infer<typeof CopiedSettingsSchema>

/** The settings that were copied last, to be pasted on the bench or the sheet. */
export const copiedSettingsAtom = browserAtom('copied settings', CopiedSettingsSchema)
