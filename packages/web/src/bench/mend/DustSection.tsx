import type { DustSpot } from '@dunkelkammer/core'
import { useAtom, useAtomValue } from 'jotai'
import { NumberControl } from '../../controls/NumberControl'
import { ShareControl } from '../../controls/ShareControl'
import { Toggle } from '../../controls/Toggle'
import { useBench } from '../state/bench'
import { standOutGainAtom, standsOutAtom } from '../state/looking'
import { Section } from '../steps/Section'
import { dropDust, findDust, lookingAtom, mendDust, proposedAtom, sensitivityAtom } from './dust'

/** Dust on the sensor: found, proposed and mended. */
export function DustSection() {
  const bench = useBench()
  const proposed = useAtomValue(proposedAtom)
  const busy = useAtomValue(lookingAtom)
  const [standsOut, setStandsOut] = useAtom(standsOutAtom)
  const [gain, setGain] = useAtom(standOutGainAtom)
  return (
    <Section title="Dust">
      <button className="button w-full" disabled={busy} onClick={() => void findDust(bench)}>
        {busy ? 'Looking for dust' : 'Find dust'}
      </button>
      <Toggle label="Make spots stand out" checked={standsOut} onChange={setStandsOut} />
      {standsOut && (
        <NumberControl
          label="Contrast"
          unit="×"
          value={gain}
          min={2}
          max={40}
          step={1}
          digits={0}
          start={12}
          onChange={setGain}
        />
      )}
      {proposed && <Proposals proposed={proposed} />}
    </Section>
  )
}

function Proposals({ proposed }: { proposed: readonly DustSpot[] }) {
  const count = proposed.length
  const bench = useBench()
  const busy = useAtomValue(lookingAtom)
  const [sensitivity, setSensitivity] = useAtom(sensitivityAtom)
  return (
    <>
      <ShareControl label="Sensitivity" value={sensitivity} start={0.5} onChange={setSensitivity} />
      <p role="status" className="hint">
        {count === 0
          ? 'No dust found. More sensitivity shows what is less sure.'
          : `${count} ${count === 1 ? 'place' : 'places'} marked. Click one to mend it; Delete puts it aside.`}
      </p>
      <div className="grid grid-cols-2 gap-1">
        <button
          className="button"
          disabled={busy || count === 0}
          onClick={() => void mendDust(bench, proposed)}
        >
          Mend all
        </button>
        <button className="button" disabled={busy} onClick={() => dropDust(bench)}>
          Forget them
        </button>
      </div>
    </>
  )
}
