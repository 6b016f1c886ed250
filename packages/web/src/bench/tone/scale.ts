import { storedAtom } from '../state/stored'

export const RAIL_SCALES = ['stops', 'display', 'waveform'] as const
export type RailScale = (typeof RAIL_SCALES)[number]

/** What the tone rail shows. */
export const railScaleAtom = storedAtom<RailScale>('rail', 'stops', RAIL_SCALES)
