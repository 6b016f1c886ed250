import { keep } from '../state/keep'
import type { Feature } from '../state/types'
import { proofingAtom } from './choice'
import { ProofLabel } from './ProofLabel'
import { ProofTools } from './ProofTools'
import { ProofWorks } from './ProofWorks'

/** The picture as a printer or another display would show it. */
export const proof: Feature = {
  Works: ProofWorks,
  Overlay: ProofLabel,
  Foot: ProofTools,
  keeps: [keep(proofingAtom)],
  commands: ({ get, set }) => [
    {
      id: 'proof',
      label: 'Proof the picture',
      group: 'View',
      keys: 'Alt+O',
      run: () => set(proofingAtom, !get(proofingAtom)),
    },
  ],
}
