import { bitsOf, SPACE_IDS, spaces, type Delivery, type FileFormat } from '@dunkelkammer/core'
import { useState } from 'react'
import { Toggle } from '../../controls/Toggle'
import { INTENT_OPTIONS } from '../../profiles/intents'
import { LoadProfile } from '../../profiles/LoadProfile'
import { useProfiles } from '../../profiles/useProfiles'
import { ErrorNotice } from '../../shell/Notice'
import { Pick } from './fields'

type Space = Delivery['space']

const DISPLAY = SPACE_IDS.map((id) => ({ value: id as string, label: spaces[id].label }))
const LINEAR = [
  { value: 'linear-rec2020', label: 'Rec. 2020, linear scene light' },
  { value: 'camera', label: 'Camera channels, linear' },
]

/** The colours of a delivery: a space, or a profile and the way into it. */
export function ColourFields(props: { space: Space; format: FileFormat; onChange(space: Space): void }) {
  const { space, format, onChange } = props
  const { data: profiles = [] } = useProfiles()
  const [problem, setProblem] = useState<string>()
  const loaded = profiles.filter((p) => p.colours === 'RGB').map((p) => ({ value: p.id, label: p.name }))
  const options = [...DISPLAY, ...(bitsOf(format) === 16 ? LINEAR : []), ...loaded]
  const chosen = typeof space === 'string' ? space : space.profile
  if (!options.some((o) => o.value === chosen))
    options.push({ value: chosen, label: 'A profile that is no longer there' })
  const choose = (value: string) => {
    const own = [...DISPLAY, ...LINEAR].some((o) => o.value === value)
    const how = typeof space === 'string' ? { intent: 'relative' as const, blackPoint: true } : space
    onChange(own ? (value as Space) : { ...how, profile: value })
  }
  return (
    <>
      <Pick label="Colour space" value={chosen} options={options} onChange={choose} />
      {typeof space === 'object' && (
        <>
          <Pick
            label="Intent"
            value={space.intent}
            options={INTENT_OPTIONS}
            onChange={(intent) => onChange({ ...space, intent })}
          />
          <Toggle
            label="Black point compensation"
            checked={space.blackPoint}
            onChange={(blackPoint) => onChange({ ...space, blackPoint })}
          />
        </>
      )}
      <div className="flex justify-end py-1">
        <LoadProfile
          onProblem={setProblem}
          onLoaded={({ id, colours, name }) =>
            colours === 'RGB'
              ? choose(id)
              : setProblem(
                  `Files are written in RGB; “${name}” is for ${colours} colours, and serves the proof.`,
                )
          }
        />
      </div>
      {problem && <ErrorNotice>{problem}</ErrorNotice>}
    </>
  )
}
