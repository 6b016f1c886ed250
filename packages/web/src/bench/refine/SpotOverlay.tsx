import { atom, useAtom, useAtomValue } from 'jotai'
import { bareAtom, pictureAtom, shownAtom, stageAtom, toolAtom, zoomAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { viewsAtom } from '../state/looking'
import { spotAtom, spotOpenAtom } from './spot'
import { SpotPane } from './SpotPane'
import { CHOOSE_SPOT } from './tools'

/** Whether the picture is too small on the screen to judge noise and sharpness. */
const fittedAtom = atom((get) => get(stageAtom) === 'refine' && get(zoomAtom) === 'fit' && !get(bareAtom))

const OFFERED = 'offered full size'
// asked once a session: who said no need not say it again
const answeredAtom = atom(false)
const offerAtom = atom(
  (get) =>
    get(fittedAtom) &&
    get(viewsAtom).main !== undefined &&
    !get(answeredAtom) &&
    sessionStorage.getItem(OFFERED) === null,
)

/** A spot at full size over the fitted picture, and the offer to see all of it so. */
export function SpotOverlay() {
  const fitted = useAtomValue(fittedAtom)
  const open = useAtomValue(spotOpenAtom)
  const offer = useAtomValue(offerAtom)
  return (
    <>
      {fitted && open && <Spot />}
      {offer && <Offer />}
    </>
  )
}

function Spot() {
  const { toggleTool, set } = useBench()
  const picture = useAtomValue(pictureAtom)
  const development = useAtomValue(shownAtom)
  const tool = useAtomValue(toolAtom)
  const [at, move] = useAtom(spotAtom)
  return (
    <SpotPane
      {...{ picture, development, at }}
      onMove={move}
      choosing={tool === CHOOSE_SPOT}
      onChoose={() => toggleTool(CHOOSE_SPOT)}
      onClose={() => set(spotOpenAtom, false)}
    />
  )
}

function Offer() {
  const { get, set, zoom } = useBench()
  const answer = (full: boolean) => {
    sessionStorage.setItem(OFFERED, 'yes')
    set(answeredAtom, true)
    if (full) zoom(1, get(spotAtom))
  }
  return (
    <div
      role="status"
      className="absolute top-3 left-1/2 z-10 flex -translate-x-1/2 items-center gap-3 border whitespace-nowrap border-edge bg-panel px-3 py-1.5"
    >
      Noise and sharpness are judged at full size.
      <button className="button" onClick={() => answer(true)}>
        Show at 100 %
      </button>
      <button className="button" onClick={() => answer(false)}>
        Stay
      </button>
    </div>
  )
}

/** Opens the spot again. */
export function SpotButton() {
  const fitted = useAtomValue(fittedAtom)
  const [open, setOpen] = useAtom(spotOpenAtom)
  if (!fitted || open) return null
  return (
    <button className="button !px-2 !py-0.5" onClick={() => setOpen(true)}>
      Spot
    </button>
  )
}
