import type { DeliveryPlace } from '@dunkelkammer/core'
import { Pick } from './fields'

const PLACES = [
  { value: 'library', label: 'Deliveries of the library' },
  { value: 'beside', label: 'Beside the original' },
  { value: 'folder', label: 'A folder of the server' },
] as const

/** Where files go. */
export function PlaceFields({
  place,
  onChange,
}: {
  place: DeliveryPlace
  onChange(place: DeliveryPlace): void
}) {
  const { subfolder } = place
  return (
    <>
      <Pick
        label="Place"
        value={place.in}
        options={PLACES}
        onChange={(at) => onChange(at === 'folder' ? { in: at, path: '', subfolder } : { in: at, subfolder })}
      />
      {place.in === 'folder' && (
        <label className="flex min-h-8 items-center justify-between gap-4">
          <span className="text-quiet">Path of the folder</span>
          <input
            className="field !w-60 py-1"
            value={place.path}
            maxLength={1000}
            onChange={(e) => onChange({ ...place, path: e.target.value })}
          />
        </label>
      )}
      <label className="flex min-h-8 items-center justify-between gap-4">
        <span className="text-quiet">Subfolder</span>
        <input
          className="field !w-60 py-1"
          value={subfolder}
          maxLength={200}
          placeholder="None"
          onChange={(e) => onChange({ ...place, subfolder: e.target.value })}
        />
      </label>
      {place.in === 'beside' && <p className="hint">Only for originals that were left where they are.</p>}
    </>
  )
}
