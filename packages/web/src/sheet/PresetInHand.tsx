import type { Picked } from '../presets/PresetPicker'

/** Says that frames that are clicked get a preset, and which had it last. */
export function PresetInHand(props: {
  picked: Picked
  handed: readonly { names: string }[]
  onTakeBack(): void
  onPutAway(): void
}) {
  const { preset, strength } = props.picked
  const last = props.handed.at(-1)
  return (
    <div className="flex items-center gap-3 border-b border-line bg-raised px-6 py-2">
      <span role="status" className="min-w-0 flex-1 truncate text-bright">
        Click frames to apply “{preset.name}”{strength !== 1 && ` at ${Math.round(strength * 100)} %`}.
        {last && <span className="text-text"> Applied to {last.names}.</span>}
      </span>
      <button className="button" disabled={!last} onClick={props.onTakeBack}>
        Take back
      </button>
      <button className="button" onClick={props.onPutAway}>
        Done
      </button>
    </div>
  )
}
