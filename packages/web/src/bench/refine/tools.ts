import { sayProblem } from '../picture/touch'
import { developmentAtom, pictureAtom } from '../state/atoms'
import type { Bench, Place, ToolKind } from '../state/types'
import { withStep } from '../steps/withStep'
import { spotAtom } from './spot'

async function pickAir({ get, adjust, take }: Bench, at: Place): Promise<void> {
  const light = await get(pictureAtom)?.ask('lightBefore', get(developmentAtom), 'haze', at.x, at.y)
  if (!light) return
  const [r, g, b] = light.map((v) => Math.max(v, 1e-3))
  adjust((d) => withStep(d, 'haze', { air: 'picked', picked: [r, g, b] }), 'Haze colour picked')
  take(undefined)
}

export const PICK_AIR: ToolKind = {
  id: 'air',
  label: 'Picture: click on nothing but haze',
  stage: 'refine',
  begin: (bench) => ({ press: (at) => void pickAir(bench, at).catch(sayProblem(bench)) }),
}

export const CHOOSE_SPOT: ToolKind = {
  id: 'spot',
  label: 'Picture: click on the spot to be seen at full size',
  begin: ({ set, take }) => ({
    press(at) {
      set(spotAtom, at)
      take(undefined)
    },
  }),
}
