import type { ReadPresets } from '@dunkelkammer/contract'
import { useState } from 'react'
import { api, sentence } from '../api/client'
import { Modal } from '../shell/Modal'
import { ProblemList } from '../shell/ProblemList'
import { groupName, withShelf } from './shelf'

type Found = ReadPresets['found'][number]
const HOW = { leave: 'Leave out', beside: 'Keep both', replace: 'Replace' } as const
type How = keyof typeof HOW

/** Asks what to do with presets that were read from files; nothing is taken in before. */
export function ImportDialog(props: {
  found: readonly Found[]
  problems: readonly string[]
  onClose(): void
}) {
  const { found, onClose } = props
  const [how, setHow] = useState<readonly How[]>(() => found.map(() => 'beside'))
  const [problem, setProblem] = useState<string>()
  const wanted = found.flatMap(({ file }, i) => {
    const as = how[i]
    return as === 'leave' ? [] : [{ file, how: as }]
  })
  const same = found.filter((f) => f.same !== undefined).length
  const all = (as: How) => setHow(found.map((f, i) => (f.same === undefined ? how[i] : as)))
  const take = async () => {
    try {
      await withShelf(() => api.importPresets(wanted))
      onClose()
    } catch (error) {
      setProblem(sentence(error))
    }
  }
  return (
    <Modal open onClose={onClose} title="Import presets" width={640}>
      {same > 1 && (
        <p className="mb-3 flex items-center gap-2">
          <span className="flex-1">{same} have the name of a preset that is there.</span>
          {(['beside', 'replace', 'leave'] as const).map((as) => (
            <button key={as} className="button !py-0.5" onClick={() => all(as)}>
              {HOW[as]}
            </button>
          ))}
        </p>
      )}
      <ul className="max-h-[360px] overflow-y-auto border border-line" aria-label="Presets that were read">
        {found.map(({ file, leftOut, same: there }, i) => (
          <li key={i} className="border-t border-line px-3 py-2 first:border-t-0">
            <div className="flex items-center gap-3">
              <span className="min-w-0 flex-1 truncate" title={file.notes}>
                <span className="text-bright">{file.name}</span>{' '}
                <span className="text-quiet">{groupName(file.group)}</span>
              </span>
              {there !== undefined && <span className="text-[12px] text-info">The name exists</span>}
              <select
                className="field !w-32 !py-0.5"
                aria-label={`What to do with ${file.name}`}
                value={how[i]}
                onChange={(e) => setHow(how.map((h, k) => (k === i ? (e.target.value as How) : h)))}
              >
                <option value="beside">{there === undefined ? 'Import' : HOW.beside}</option>
                {there !== undefined && <option value="replace">{HOW.replace}</option>}
                <option value="leave">{HOW.leave}</option>
              </select>
            </div>
            {leftOut.length > 0 && (
              <p className="mt-1 text-[12px] text-info">Not all of it is imported. {leftOut.join(' ')}</p>
            )}
          </li>
        ))}
      </ul>
      <ProblemList problems={[...props.problems]} className="mt-3 max-h-32 text-info" />
      {problem && (
        <p role="alert" className="mt-3 text-info">
          {problem}
        </p>
      )}
      <div className="mt-5 flex justify-end gap-2">
        <button className="button" onClick={onClose}>
          Cancel
        </button>
        <button className="button button-main" disabled={wanted.length === 0} onClick={() => void take()}>
          Import {wanted.length === 1 ? '1 preset' : `${wanted.length} presets`}
        </button>
      </div>
    </Modal>
  )
}
