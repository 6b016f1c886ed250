import { useAtom, type WritableAtom } from 'jotai'
import { PanelLeftClose, PanelLeftOpen, PanelRightClose, PanelRightOpen } from 'lucide-react'

const MARKS = {
  left: { close: PanelLeftClose, open: PanelLeftOpen },
  right: { close: PanelRightClose, open: PanelRightOpen },
} as const

interface Props {
  /** "drawer" */
  name: string
  keys: string
  side: 'left' | 'right'
  shown: WritableAtom<boolean, [boolean], void>
}

/** Folds a side of the bench away, or brings it back. */
export function FoldButton({ name, keys, side, shown }: Props) {
  const [open, setOpen] = useAtom(shown)
  const Mark = MARKS[side][open ? 'close' : 'open']
  const label = `${open ? 'Hide' : 'Show'} the ${name}`
  return (
    <button
      className="icon-button !h-6 !w-6 shrink-0"
      aria-label={label}
      title={`${label} (${keys})`}
      onClick={() => setOpen(!open)}
    >
      <Mark className="h-4 w-4" aria-hidden />
    </button>
  )
}

/** What is left of a side that is folded away. */
export const FoldedSide = (props: Props) => (
  <div
    className={`flex w-7 shrink-0 justify-center border-line bg-panel pt-3 ${props.side === 'left' ? 'border-r' : 'border-l'}`}
  >
    <FoldButton {...props} />
  </div>
)
