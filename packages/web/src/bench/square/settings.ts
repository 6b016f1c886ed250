import { storedAtom, storedSwitch } from '../state/stored'

export const GUIDE_KINDS = ['none', 'thirds', 'golden', 'diagonals', 'grid', 'centre'] as const
export type GuideKind = (typeof GUIDE_KINDS)[number]
export const OUTSIDES = ['dimmed', 'hidden'] as const
export type Outside = (typeof OUTSIDES)[number]

/** Whether a grid of lines lies over the picture. */
export const gridAtom = storedSwitch('grid', ['on', 'off'], false)
/** Lines inside of the frame while it is set, and what lies outside of it. */
export const guidesAtom = storedAtom<GuideKind>('guides', 'thirds', GUIDE_KINDS)
export const outsideAtom = storedAtom<Outside>('outside', 'dimmed', OUTSIDES)
