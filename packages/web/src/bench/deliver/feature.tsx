import { useAtom, useAtomValue } from 'jotai'
import { deskAtom, dialogAtom, frameAtom, framedAtom, versionAtom } from '../state/atoms'
import type { Feature } from '../state/types'
import { DeliverDialog } from './DeliverDialog'

function DeliverPanel() {
  const [dialog, show] = useAtom(dialogAtom)
  return dialog === 'deliver' && <Delivery onClose={() => show(undefined)} />
}

function Delivery({ onClose }: { onClose(): void }) {
  const { id } = useAtomValue(versionAtom)
  const { fileName } = useAtomValue(frameAtom)
  const { finished } = useAtomValue(framedAtom)
  const desk = useAtomValue(deskAtom)
  return (
    <DeliverDialog
      open
      {...{ onClose, fileName }}
      versionId={id}
      picture={finished}
      settle={() => desk.settle()}
    />
  )
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
