import type { Development, FoundSoftness } from '@dunkelkammer/core'
import { Superseded, type Picture } from '@dunkelkammer/engine/browser'
import { useEffect, useMemo, useState } from 'react'
import { sentence } from '../../api/client'
import { withStep } from '../steps/props'
import { useEvent } from '../state/useEvent'

/** What the picture says of its own softness. */
export interface Softening {
  busy: boolean
  ready: boolean
  measure(): unknown
  said?: string
}

const WORDS = { lens: 'A lens’s softness', focus: 'A missed focus', motion: 'A movement' } as const

/** A finding in a sentence. */
export function softnessWords({ softness, radius, angle, edges }: FoundSoftness): string {
  const where = softness === 'motion' ? `, ${Math.round(angle)}° from level` : ''
  return `${WORDS[softness]} of ${radius.toFixed(2)} px${where}, by ${edges} edges.`
}

export function useSoftness(
  picture: Picture | undefined,
  development: () => Development,
  adjust: (change: (d: Development) => Development, label: string) => void,
): Softening {
  const [busy, setBusy] = useState(false)
  const [said, setSaid] = useState<string>()
  useEffect(() => setSaid(undefined), [picture])
  const measure = useEvent(async () => {
    if (!picture) return
    setBusy(true)
    try {
      const found = await picture.softness(development())
      if (!found) {
        setSaid('Too few clear straight edges to say. Set it by eye at 100 %.')
        return
      }
      setSaid(softnessWords(found))
      const { softness, radius, angle } = found
      adjust(
        (d) => withStep(d, 'sharpen', { softness, radius, angle, amount: d.steps.sharpen.amount || 1 }),
        'Softness measured',
      )
    } catch (error) {
      if (!(error instanceof Superseded)) setSaid(sentence(error))
    } finally {
      setBusy(false)
    }
  })
  const ready = picture !== undefined && !busy
  return useMemo(() => ({ busy, ready, measure, said }), [busy, ready, measure, said])
}
