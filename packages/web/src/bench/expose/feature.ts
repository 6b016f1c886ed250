import { AUTOMATICS } from '@dunkelkammer/engine/browser'
import { pictureAtom } from '../state/atoms'
import type { Feature } from '../state/types'
import { setFromPicture } from './automatic'
import { CameraMatcher } from './cameraMatch'
import { ExposeDrawer } from './ExposeDrawer'

/** Light, tones and their rendering. */
export const expose: Feature = {
  drawer: { stage: 'expose', Sections: ExposeDrawer },
  Works: CameraMatcher,
  commands: (bench) => [
    {
      id: 'automatic',
      label: 'Automatic exposure, points, tones and white balance',
      group: 'Expose',
      keys: 'F',
      disabled: !bench.get(pictureAtom),
      run: () => void setFromPicture(bench, AUTOMATICS, 1),
    },
  ],
}
