import type { StepId } from '@dunkelkammer/core'
import { useAtom } from 'jotai'
import { Pin, PinOff } from 'lucide-react'
import { idOfPin, pinnedAtom, toggled } from './pins'

/** Pins a control into the own drawer from where it stands, in the margin beside it; nothing where it cannot be. */
export function PinButton({ step, field, label }: { step: StepId; field: string; label: string }) {
  const [ids = [], setIds] = useAtom(pinnedAtom)
  const id = idOfPin(step, field)
  if (id === undefined) return null
  const isPinned = ids.includes(id)
  const Icon = isPinned ? PinOff : Pin
  const says = isPinned ? `Unpin ${label}` : `Pin ${label}`
  return (
    <button
      className="absolute top-[3px] -left-[15px] text-quiet opacity-0 group-hover/number:opacity-100 hover:text-bright focus-visible:opacity-100"
      aria-label={says}
      title={isPinned ? 'Remove from the own drawer' : 'Pin into the own drawer'}
      // keys go from control to control
      tabIndex={-1}
      onDoubleClick={(e) => e.stopPropagation()}
      onClick={() => setIds(toggled(ids, id))}
    >
      <Icon className="h-3 w-3" aria-hidden />
    </button>
  )
}
