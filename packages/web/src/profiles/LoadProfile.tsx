import type { ColourProfile } from '@dunkelkammer/contract'
import { useRef, useState } from 'react'
import { api, sentence } from '../api/client'
import { forgetProfiles } from './useProfiles'
import { HiddenFiles } from '../controls/HiddenFiles'

/** Brings an ICC profile into the library. */
export function LoadProfile(props: {
  onLoaded?(profile: ColourProfile): void
  /** Told what went wrong; nothing where it went well. */
  onProblem(problem: string | undefined): void
}) {
  const input = useRef<HTMLInputElement>(null)
  const [busy, setBusy] = useState(false)
  const load = async (file: File) => {
    setBusy(true)
    props.onProblem(undefined)
    try {
      const profile = await api.addProfile(file)
      await forgetProfiles()
      props.onLoaded?.(profile)
    } catch (error) {
      props.onProblem(`${file.name}: ${sentence(error)}`)
    } finally {
      setBusy(false)
    }
  }
  return (
    <>
      <button type="button" className="button" disabled={busy} onClick={() => input.current?.click()}>
        Load profile
      </button>
      <HiddenFiles
        ref={input}
        label="Colour profile to load"
        accept=".icc,.icm"
        onFiles={([file]) => void load(file)}
      />
    </>
  )
}
