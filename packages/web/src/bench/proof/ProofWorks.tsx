import type { ProofQuery } from '@dunkelkammer/contract'
import { useQuery } from '@tanstack/react-query'
import { useAtomValue } from 'jotai'
import { useMemo } from 'react'
import { api } from '../../api/client'
import { usePublished } from '../state/bench'
import { displayAtom, proofAtom } from '../state/looking'
import { proofChoiceAtom, proofingAtom } from './choice'

const flag = (on: boolean) => (on ? 'yes' : 'no')

/** The table of the chosen proof, asked for while it is shown. */
export function useProofTable() {
  const on = useAtomValue(proofingAtom)
  const { profile, intent, blackPoint, paperWhite } = useAtomValue(proofChoiceAtom)
  const display = useAtomValue(displayAtom)
  const how: ProofQuery = { intent, blackPoint: flag(blackPoint), paperWhite: flag(paperWhite), display }
  const id = [profile, ...Object.values(how)].join(' ')
  return useQuery({
    queryKey: ['proof', id],
    queryFn: async () => ({ id, values: await api.proofTable(profile, how) }),
    enabled: on && profile !== '',
    staleTime: Infinity,
    // megabytes: a few of them are kept for a while
    gcTime: 120_000,
    retry: false,
  })
}

/** Has the picture shown as another device would, while that is wanted. */
export function ProofWorks() {
  const on = useAtomValue(proofingAtom)
  const { stripes } = useAtomValue(proofChoiceAtom)
  const { data } = useProofTable()
  usePublished(
    proofAtom,
    useMemo(() => (on && data ? { proof: data, stripes } : undefined), [on, data, stripes]),
  )
  return null
}
