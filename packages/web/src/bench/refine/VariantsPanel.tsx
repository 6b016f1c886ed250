import { useAtom, useAtomValue } from 'jotai'
import { centreAtom, developmentAtom, dialogAtom, pictureAtom, zoomAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { spotAtom } from './spot'
import { Variants } from './Variants'
import { withVaried } from './variants'

/** The variants, while they are compared. */
export function VariantsPanel() {
  const [dialog, show] = useAtom(dialogAtom)
  return dialog === 'variants' && <Compared onClose={() => show(undefined)} />
}

function Compared({ onClose }: { onClose(): void }) {
  const { adjust } = useBench()
  const picture = useAtomValue(pictureAtom)
  const development = useAtomValue(developmentAtom)
  const fitted = useAtomValue(zoomAtom) === 'fit'
  const spot = useAtomValue(spotAtom)
  const centre = useAtomValue(centreAtom)
  if (!picture) return null
  return (
    <Variants
      {...{ picture, development, onClose }}
      at={fitted ? spot : centre}
      onTake={(part, from) => {
        adjust((d) => withVaried(d, part, from), 'Variant chosen')
        onClose()
      }}
    />
  )
}
