import type { Version } from '@dunkelkammer/contract'
import { makePlan, startAfterKept, withFrameOf, withoutSteps, type Development } from '@dunkelkammer/core'
import { useEffect, useMemo, useState } from 'react'
import type { VersionDesk } from '../../desk/versionDesk'
import type { Reference } from './reference'

/** The same frame, with its noise and with nothing done to it. */
const untouchedOf = (d: Development) => withoutSteps(startAfterKept(d), ['noise'])

/** Same key, same demosaiced picture. */
const keptKey = (d: Development) => makePlan(d, 'srgb').developKey

/**
 * The settings that the development is compared with, in its frame.
 * @param wanted whether anybody looks
 * @returns nothing while they are not known, or where the camera's own picture is meant
 */
export function useReference(
  wanted: boolean,
  reference: Reference,
  desk: VersionDesk,
  versions: readonly Version[],
  development: Development,
): Development | undefined {
  const [entry, setEntry] = useState<{ of: Reference; development: Development }>()
  useEffect(() => {
    if (!wanted || reference.kind !== 'entry') return
    let here = true
    desk.developmentAt(reference.place).then(
      (found) => here && setEntry({ of: reference, development: found }),
      // the picture stays as it is
      () => undefined,
    )
    return () => {
      here = false
    }
  }, [wanted, reference, desk])
  // nothing else of the development is asked for, so that a control that moves does not make the untouched frame anew
  const kept = keptKey(development)
  const frame = JSON.stringify(withFrameOf(desk.begun.development, development).steps)
  return useMemo(() => {
    if (!wanted) return undefined
    if (reference.kind === 'untouched') return untouchedOf(development)
    const found =
      reference.kind === 'version'
        ? versions.find((v) => v.id === reference.id)?.development
        : entry?.of === reference
          ? entry.development
          : undefined
    return found && withFrameOf(found, development)
  }, [wanted, reference, versions, entry, kept, frame])
}
