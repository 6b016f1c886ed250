import { makePlan } from '@dunkelkammer/core'
import { atom, useAtomValue } from 'jotai'
import { useEffect } from 'react'
import { developmentAtom, pictureAtom, stageAtom } from '../state/atoms'
import { useBench, usePublished } from '../state/bench'
import { selectionAtom } from '../state/looking'
import type { Feature } from '../state/types'
import { BalanceDrawer } from './BalanceDrawer'
import { chosenNodeAtom, huesAtom, showingNodeAtom } from './hues'
import { PICK_GREY } from './tools'

/** How long what changes the hues must have been at rest. */
const REST_MS = 350

/** What the hues of the picture hang on, where they are wanted; the nodes and what follows them do not change them. */
const askedAtom = atom((get) => {
  if (get(stageAtom) !== 'balance') return ''
  const plan = makePlan(get(developmentAtom), 'srgb')
  const cut = plan.render.findIndex((p) => p.id === 'hueNodes' || p.id === 'edgeBurn')
  return plan.developKey + JSON.stringify(plan.render.slice(0, cut < 0 ? undefined : cut))
})

/** Keeps up to date how much of each hue the picture holds. */
function HueCounter() {
  const { get, set } = useBench()
  const picture = useAtomValue(pictureAtom)
  const asked = useAtomValue(askedAtom)
  useEffect(() => {
    if (!picture || !asked) return
    let gone = false
    const timer = setTimeout(() => {
      picture.ask('hues', get(developmentAtom), 'hueNodes').then(
        (found) => !gone && set(huesAtom, found),
        () => undefined,
      )
    }, REST_MS)
    return () => {
      gone = true
      clearTimeout(timer)
    }
  }, [get, set, picture, asked])
  return null
}

const selectionWantedAtom = atom((get) =>
  get(showingNodeAtom) && get(stageAtom) === 'balance' ? get(chosenNodeAtom) : undefined,
)

function BalanceWorks() {
  usePublished(selectionAtom, useAtomValue(selectionWantedAtom))
  return <HueCounter />
}

/** White balance and colours. */
export const balance: Feature = {
  drawer: { stage: 'balance', Sections: BalanceDrawer },
  Works: BalanceWorks,
  commands: ({ toggleTool }) => [
    {
      id: 'grey',
      label: 'Pick a grey in the picture',
      group: 'Balance',
      keys: 'N',
      run: () => toggleTool(PICK_GREY),
    },
  ],
}
