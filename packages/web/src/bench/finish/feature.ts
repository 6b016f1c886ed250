import type { Feature } from '../state/types'
import { FinishDrawer } from './FinishDrawer'

/** What is done last: edges and grain. */
export const finish: Feature = { drawer: { stage: 'finish', Sections: FinishDrawer } }
