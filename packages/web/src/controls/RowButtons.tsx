import { Eye, EyeOff, Trash2 } from 'lucide-react'

/** Switches what a row of a list stands for on and off. @param label what is switched */
export function OnButton(props: { label: string; on: boolean; onChange(on: boolean): void }) {
  const { label, on, onChange } = props
  const Mark = on ? Eye : EyeOff
  return (
    <button
      className="icon-button !h-6 !w-6"
      aria-label={`${label} on`}
      aria-pressed={on}
      title={on ? 'Switch off' : 'Switch on'}
      onClick={() => onChange(!on)}
    >
      <Mark className="h-3.5 w-3.5" aria-hidden />
    </button>
  )
}

/** Deletes what a row of a list stands for. @param label what is deleted */
export function DeleteButton({ label, onDelete }: { label: string; onDelete(): void }) {
  return (
    <button
      className="icon-button !h-6 !w-6"
      aria-label={`Delete ${label}`}
      title="Delete"
      onClick={onDelete}
    >
      <Trash2 className="h-3.5 w-3.5" aria-hidden />
    </button>
  )
}
