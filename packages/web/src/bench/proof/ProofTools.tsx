import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react'
import { useAtom } from 'jotai'
import { ChevronDown, Printer } from 'lucide-react'
import { useState } from 'react'
import { sentence } from '../../api/client'
import { Select } from '../../controls/Select'
import { Toggle } from '../../controls/Toggle'
import { INTENT_OPTIONS } from '../../profiles/intents'
import { LoadProfile } from '../../profiles/LoadProfile'
import { useProfiles } from '../../profiles/useProfiles'
import { ErrorNotice } from '../../shell/Notice'
import { useBench } from '../state/bench'
import { addVersion } from '../versions/actions'
import { proofChoiceAtom, proofingAtom } from './choice'
import { useProofTable } from './ProofWorks'

/** Shows the picture as a printer or another display would, and says how. */
export function ProofTools() {
  const [on, setOn] = useAtom(proofingAtom)
  return (
    <div className="flex items-center" role="group" aria-label="Proof">
      <button
        className="icon-button"
        aria-pressed={on}
        aria-label="Proof"
        onClick={() => setOn(!on)}
        title="Show the picture as a printer or another display would (Alt+O)"
      >
        <Printer className="h-4 w-4" aria-hidden />
      </button>
      <Popover>
        <PopoverButton
          className="icon-button !w-5"
          aria-label="How it is proofed"
          title="Profile, intent and paper of the proof"
        >
          <ChevronDown className="h-3.5 w-3.5" aria-hidden />
        </PopoverButton>
        <PopoverPanel anchor="top end" className="menu z-40 w-96 !p-3" aria-label="How it is proofed">
          <ProofChoices />
        </PopoverPanel>
      </Popover>
    </div>
  )
}

function ProofChoices() {
  const bench = useBench()
  const [choice, choose] = useAtom(proofChoiceAtom)
  const [on, setOn] = useAtom(proofingAtom)
  const { data: profiles = [] } = useProfiles()
  const { error } = useProofTable()
  const [problem, setProblem] = useState<string>()
  const name = profiles.find((p) => p.id === choice.profile)?.name
  const options = [
    ...(name ? [] : [{ value: choice.profile, label: 'Choose a profile' }]),
    ...profiles.map(({ id, name: label }) => ({ value: id, label })),
  ]
  const takeProfile = (profile: string) => {
    choose({ profile })
    setOn(profile !== '')
  }
  return (
    <div className="flex flex-col text-[13px]">
      <Select label="Profile" value={choice.profile} options={options} onChange={takeProfile} />
      <Select
        label="Intent"
        value={choice.intent}
        options={INTENT_OPTIONS}
        onChange={(intent) => choose({ intent })}
      />
      <Toggle
        label="Black point compensation"
        checked={choice.blackPoint}
        onChange={(blackPoint) => choose({ blackPoint })}
      />
      <Toggle
        label="White and black of the paper"
        checked={choice.paperWhite}
        onChange={(paperWhite) => choose({ paperWhite })}
      />
      <Toggle
        label="Stripes over colours out of gamut"
        checked={choice.stripes}
        onChange={(stripes) => choose({ stripes })}
      />
      {(problem || (on && error)) && <ErrorNotice>{problem ?? sentence(error)}</ErrorNotice>}
      <div className="flex justify-end gap-2 pt-2">
        <LoadProfile onProblem={setProblem} onLoaded={({ id }) => takeProfile(id)} />
        <button
          className="button"
          disabled={!name}
          title="Begins a version with this one’s settings, for adjustments that only the proof needs"
          onClick={() => void addVersion(bench, 'this', undefined, `Proof, ${name}`)}
        >
          Version for the proof
        </button>
      </div>
    </div>
  )
}
