import { PURPOSES } from './purposes'
import type { ShippedPreset } from './shipped'
import { WHOLE_LOOKS } from './wholeLooks'

export type { ShippedPreset }

/** The presets that come with Dunkelkammer, in the order in which they are offered. */
export const SHIPPED_PRESETS: readonly ShippedPreset[] = [...PURPOSES, ...WHOLE_LOOKS]
