import { storedSwitch } from '../state/stored'

/** Whether the history lies beside the picture, in place of the strip. */
export const historyOpenAtom = storedSwitch('history', ['open', 'closed'], false)
