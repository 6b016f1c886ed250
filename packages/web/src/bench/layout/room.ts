import { storedSwitch } from '../state/stored'

const SHOWN = ['shown', 'hidden'] as const

/** Whether the drawer and the strip take room beside the picture. */
export const drawerShownAtom = storedSwitch('drawer', SHOWN, true)
export const stripShownAtom = storedSwitch('strip', SHOWN, true)
/** Whether the numbers of the drawer take one line each, or two. */
export const compactAtom = storedSwitch('rows', ['compact', 'two lines'], false)
