/** What stands where frames will be: none yet, none in the bin, or none that pass the filters. */
export function EmptySheet(props: { kind: 'new' | 'bin' | 'filter'; onBring(): void; onClear(): void }) {
  if (props.kind === 'filter')
    return (
      <div className="flex flex-col items-start gap-3 p-6">
        <p className="text-quiet">No frame of this shoot passes all the filters.</p>
        <button className="button" onClick={props.onClear}>
          Remove all filters
        </button>
      </div>
    )
  if (props.kind === 'bin')
    return (
      <div className="flex flex-col items-start gap-3 p-6">
        <p className="text-quiet">The bin is empty.</p>
        <button className="button" onClick={props.onClear}>
          Back to the frames
        </button>
      </div>
    )
  return (
    <div className="flex flex-col items-start gap-3 p-6">
      <p className="text-quiet">No frames yet. Drop raw files, pictures or a folder here, or choose them.</p>
      <button className="button" onClick={props.onBring}>
        Bring in
      </button>
    </div>
  )
}
