import { INTENTS, type Intent } from '@dunkelkammer/core'

const LABELS: Readonly<Record<Intent, string>> = {
  perceptual: 'Perceptual',
  relative: 'Relative colorimetric',
  saturation: 'Saturation',
  absolute: 'Absolute colorimetric',
}
export const INTENT_OPTIONS = INTENTS.map((value) => ({ value, label: LABELS[value] }))
