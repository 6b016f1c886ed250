import { applyChanges, changesBetween } from '@dunkelkammer/core'
import { automatic, Superseded, type Automatic, type Picture } from '@dunkelkammer/engine/browser'
import { useCallback, useState } from 'react'
import { sentence } from '../../api/client'
import type { VersionDesk } from '../../desk/versionDesk'
import type { AutomaticProps } from './AutomaticSection'

const LABELS: Record<Automatic, string> = {
  exposure: 'Exposure from the picture',
  points: 'Points from the picture',
  tones: 'Tones from the picture',
  white: 'White balance from the picture',
}

/** Sets ordinary controls from the picture, as one step of the history. */
export function useAutomatic(
  picture: Picture | undefined,
  desk: VersionDesk,
  say: (problem: string | undefined) => void,
): AutomaticProps {
  const [busy, setBusy] = useState(false)
  const run = useCallback(
    async (which: readonly Automatic[], strength: number) => {
      if (!picture) return
      setBusy(true)
      try {
        const asked = desk.development
        const changes = changesBetween(asked, await automatic(picture, asked, which, strength))
        say(undefined)
        const label = which.length === 1 ? LABELS[which[0]] : 'All four from the picture'
        // what was set by hand meanwhile stays
        desk.adjust((d) => applyChanges(d, changes), label)
      } catch (error) {
        if (!(error instanceof Superseded)) say(sentence(error))
      } finally {
        setBusy(false)
      }
    },
    [picture, desk, say],
  )
  return { run: picture && run, busy }
}
