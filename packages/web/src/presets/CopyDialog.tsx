import { choicesOf, portionOf, type Development } from '@dunkelkammer/core'
import { useSetAtom } from 'jotai'
import { useMemo, useState } from 'react'
import { Modal } from '../shell/Modal'
import { ChoiceTree } from './ChoiceTree'
import { copiedLast, rememberCopied } from './choices'
import { copiedSettingsAtom } from '../desk/copied'

/** Chooses which settings of a frame are copied. */
export function CopyDialog(props: { development: Development; fileName: string; onClose(): void }) {
  const { development, fileName, onClose } = props
  const choices = useMemo(() => choicesOf(development), [development])
  const [chosen, choose] = useState(() => copiedLast(choices))
  const [problem, setProblem] = useState<string>()
  const copy = useSetAtom(copiedSettingsAtom)
  const done = () => {
    try {
      rememberCopied(choices, chosen)
      copy({
        portion: portionOf(
          development,
          choices.filter((c) => chosen.has(c.key)),
        ),
        fileName,
      })
      onClose()
    } catch {
      // more than a browser keeps for a page
      setProblem('This is too much to be copied. Leave out patches or areas that were painted.')
    }
  }
  return (
    <Modal open onClose={onClose} title={`Copy settings of ${fileName}`} width={640}>
      <ChoiceTree choices={choices} chosen={chosen} onChange={choose} />
      {problem && (
        <p role="alert" className="mt-3 text-info">
          {problem}
        </p>
      )}
      <div className="mt-5 flex justify-end gap-2">
        <button className="button" onClick={onClose}>
          Cancel
        </button>
        <button className="button button-main" disabled={chosen.size === 0} onClick={done}>
          Copy
        </button>
      </div>
    </Modal>
  )
}
