import { meanNeutral } from '@dunkelkammer/core'
import { atom, useAtomValue } from 'jotai'
import { Numbered } from '../picture/Numbered'
import { onSensor, pullLight, sayProblem } from '../picture/touch'
import { developmentAtom, geometryAtom, pictureAtom, squareAtom } from '../state/atoms'
import type { Bench, PictureTool, Place, ToolKind } from '../state/types'
import { withStep } from '../steps/withStep'
import { chosenNodeAtom, draggedNode, hueOf, huePartAtom, nodeAt } from './hues'
import { neutralFromSample } from './pickGrey'

/** Below this chroma in Oklab a place has no hue to speak of. */
const NEARLY_GREY = 0.015

async function pickGrey(bench: Bench, at: Place): Promise<void> {
  const picture = bench.get(pictureAtom)
  if (!picture) return
  const geometry = bench.get(geometryAtom)
  // sensor pixels of a pixel on the screen
  const coarse = geometry ? bench.get(squareAtom).width / geometry.width : 1
  const radius = Math.max(3, Math.round(4 * coarse))
  const found = neutralFromSample(await picture.ask('sample', bench.get(developmentAtom), at.x, at.y, radius))
  if ('problem' in found) return bench.say(found.problem)
  bench.say(undefined)
  bench.adjust((d) => {
    const before = d.steps.cameraColour.source === 'sample' ? d.steps.cameraColour.samples : []
    const samples = [...before, { ...onSensor(bench, at), neutral: found.neutral }]
    return withStep(d, 'cameraColour', {
      source: 'sample',
      samples,
      neutral: meanNeutral(samples.map((s) => s.neutral)) as [number, number, number],
    })
  }, 'Grey picked')
  bench.take(undefined)
}

const samplesAtom = atom((get) => {
  const { samples, source } = get(developmentAtom).steps.cameraColour
  return source === 'sample' ? samples : []
})

const SampleOverlay = () => <Numbered places={useAtomValue(samplesAtom)} />

export const PICK_GREY: ToolKind = {
  id: 'grey',
  label: 'Picture: choose a grey place with the arrow keys and Enter',
  stage: 'balance',
  Overlay: SampleOverlay,
  begin: (bench) => ({ press: (at) => void pickGrey(bench, at).catch(sayProblem(bench)) }),
}

const pullHue =
  (bench: Bench): NonNullable<PictureTool['grasp']> =>
  (at) =>
    pullLight(bench, at, 'hueNodes', (light) => {
      const { hue, chroma } = hueOf(light)
      if (chroma < NEARLY_GREY) {
        bench.say('This place is nearly grey: it has no hue to work on.')
        return undefined
      }
      bench.say(undefined)
      const part = bench.get(huePartAtom)
      const start = nodeAt(bench.get(developmentAtom).steps.hueNodes.nodes, hue)
      bench.set(chosenNodeAtom, start.index)
      return (up) => {
        const nodes = start.nodes.map((n, i) => (i === start.index ? draggedNode(n, part, up) : n))
        bench.adjust((d) => withStep(d, 'hueNodes', { nodes }), 'Hue changed on the picture', 'pull')
      }
    })

export const PULL_HUE: ToolKind = {
  id: 'hue',
  label: 'Picture: drag a colour up or down to change it; Enter chooses the node under the cross',
  stage: 'balance',
  begin: (bench) => ({ grasp: pullHue(bench) }),
}
