import { useAtom, useAtomValue } from 'jotai'
import { deskAtom, dialogAtom, frameAtom, versionAtom } from '../state/atoms'
import type { Feature } from '../state/types'
import { DeliverDialog } from '../../deliveries/DeliverDialog'

function DeliverPanel() {
  const [dialog, show] = useAtom(dialogAtom)
  return dialog === 'deliver' && <Delivery onClose={() => show(undefined)} />
}

function Delivery({ onClose }: { onClose(): void }) {
  const { id: versionId } = useAtomValue(versionAtom)
  const { id } = useAtomValue(frameAtom)
  const desk = useAtomValue(deskAtom)
  return <DeliverDialog frames={[{ id, versionId }]} onClose={onClose} settle={() => desk.settle()} />
}

/** Files made from the version on the bench. */
export const deliver: Feature = {
  Panel: DeliverPanel,
  commands: ({ set }) => [
    {
      id: 'deliver',
      label: 'Deliver',
      group: 'Work',
      keys: 'Ctrl+Enter',
      run: () => set(dialogAtom, 'deliver'),
    },
  ],
}
