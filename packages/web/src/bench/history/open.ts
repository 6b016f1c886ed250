import { sideOpenAtom } from '../layout/side'

/** Whether the history lies beside the picture, in place of the strip. */
export const historyOpenAtom = sideOpenAtom('history')
