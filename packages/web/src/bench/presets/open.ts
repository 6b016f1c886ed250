import { sideOpenAtom } from '../layout/side'

/** Whether the presets lie beside the picture, in place of the strip. */
export const presetsOpenAtom = sideOpenAtom('presets')
