import { useRef, useState } from 'react'
import { api, sentence } from '../../api/client'
import { queryClient } from '../../api/queries'
import { HiddenFiles } from '../../controls/HiddenFiles'

/** Asks for the file of a frame whose original is missing or was changed, and puts it back. */
export function ChooseOriginal({ frameId, onRestored }: { frameId: string; onRestored(): void }) {
  const picker = useRef<HTMLInputElement>(null)
  const [problem, setProblem] = useState<string>()
  const [busy, setBusy] = useState(false)
  const take = async (file: File) => {
    setBusy(true)
    setProblem(undefined)
    try {
      await api.restoreOriginal(frameId, file)
      void queryClient.invalidateQueries({ queryKey: ['frame', frameId] })
      onRestored()
    } catch (error) {
      setProblem(sentence(error))
    }
    setBusy(false)
  }
  return (
    <>
      <button className="button" disabled={busy} onClick={() => picker.current?.click()}>
        {busy ? 'Restoring' : 'Choose the file'}
      </button>
      <HiddenFiles
        ref={picker}
        label="File of the original"

        onFiles={([file]) => void take(file)}
      />
      {problem && <p className="mt-2 text-bright">{problem}</p>}
    </>
  )
}
