import { useAtomValue } from 'jotai'
import { sentence } from '../../api/client'
import { useProfiles } from '../../profiles/useProfiles'
import { bareAtom } from '../state/atoms'
import { proofChoiceAtom, proofingAtom } from './choice'
import { useProofTable } from './ProofWorks'

/** Says over the picture that it is a proof, and of what. */
export function ProofLabel() {
  const on = useAtomValue(proofingAtom)
  const bare = useAtomValue(bareAtom)
  return on && !bare && <Label />
}

function Label() {
  const { profile } = useAtomValue(proofChoiceAtom)
  const { data: profiles } = useProfiles()
  const { data, error } = useProofTable()
  const name = profiles?.find((p) => p.id === profile)?.name
  const said = error
    ? `No proof: ${sentence(error)}`
    : !profile
      ? 'Choose a profile for the proof.'
      : data
        ? `Proof: ${name ?? 'loaded profile'}`
        : 'The proof is being made…'
  return (
    <p
      role="status"
      className="pointer-events-none absolute top-3 right-3 z-10 max-w-[45%] truncate bg-night/85 px-2 py-1 text-bright"
    >
      {said}
    </p>
  )
}
