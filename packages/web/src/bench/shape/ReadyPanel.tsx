import type { Thing } from '@dunkelkammer/core'
import { useAtom } from 'jotai'
import { OfferPanel } from '../offers/OfferPanel'
import { useBench } from '../state/bench'
import { addArea } from './areas'
import { readyOpenAtom, useReady } from './ready'

const NAMES: Record<Thing, string> = {
  sky: 'sky',
  ground: 'ground',
  water: 'water',
  subject: 'subject',
  distance: 'near and far',
}

/** Areas that are fitted to this picture, to be taken with one click each. */
export function ReadyPanel() {
  const [open] = useAtom(readyOpenAtom)
  return open ? <OpenPanel /> : null
}

function OpenPanel() {
  const bench = useBench()
  const { offers, missing, next, problem } = useReady()
  const none = missing.map((thing) => NAMES[thing])
  return (
    <OfferPanel
      title="Ready areas"
      offers={offers}
      onTake={(offer) => {
        if (addArea(bench, offer.area(), `${offer.name} added`)) bench.endGesture()
        bench.set(readyOpenAtom, false)
      }}
      onClose={() => bench.set(readyOpenAtom, false)}
      after={
        <p className="hint pt-3" role="status">
          {problem ??
            (next !== 'done'
              ? `Looking for ${NAMES[next]}`
              : none.length > 0
                ? `Not found in this picture: ${none.join(', ')}.`
                : 'Each is an ordinary area afterwards.')}
        </p>
      }
    />
  )
}
