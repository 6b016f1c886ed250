import { atom, useAtom, useAtomValue } from 'jotai'
import { ChevronLeft, History, Redo2, Stamp, Undo2 } from 'lucide-react'
import { Link } from 'react-router'
import { asQuery } from '../../sheet/useSheet'
import { historyOpenAtom } from '../history/open'
import { presetsOpenAtom } from '../presets/open'
import { deskAtom, dialogAtom, frameAtom, shootAtom, standAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { carriedAtom } from './carried'
import { StageLine } from './StageLine'

/** The line at the top: the frame, the stages, undo, history and delivery. */
export function BenchHeader() {
  const { set } = useBench()
  const frame = useAtomValue(frameAtom)
  const { shoot } = useAtomValue(shootAtom)
  const carried = useAtomValue(carriedAtom)
  const [history, setHistory] = useAtom(historyOpenAtom)
  const [presets, setPresets] = useAtom(presetsOpenAtom)
  return (
    <header className="flex h-[60px] shrink-0 border-b border-line bg-panel">
      <div className="flex w-[320px] shrink-0 items-center gap-2 border-r border-line px-3">
        <Link
          to={`/shoots/${frame.shootId}${asQuery(carried)}`}
          className="icon-button"
          aria-label="Back to the contact sheet"
        >
          <ChevronLeft className="h-5 w-5" aria-hidden />
        </Link>
        <div className="min-w-0 flex-1">
          <h1 className="truncate text-bright" title={frame.fileName}>
            {frame.fileName}
          </h1>
          <p className="truncate text-[11px] text-quiet" title={shoot.name}>
            {shoot.name}
          </p>
        </div>
        <SaveState />
      </div>
      <StageLine />
      <div className="flex shrink-0 items-center gap-1 border-l border-line px-2">
        <UndoButtons />
        <button
          className="icon-button"
          aria-pressed={history}
          aria-label="History"
          title="History (E)"
          onClick={() => setHistory(!history)}
        >
          <History className="h-4 w-4" aria-hidden />
        </button>
        <button
          className="icon-button"
          aria-pressed={presets}
          aria-label="Presets"
          title="Presets (Alt+L)"
          onClick={() => setPresets(!presets)}
        >
          <Stamp className="h-4 w-4" aria-hidden />
        </button>
        <button className="button" onClick={() => set(dialogAtom, 'deliver')}>
          Deliver
        </button>
      </div>
    </header>
  )
}

const undoesAtom = atom((get) => get(standAtom).undoes)
const redoesAtom = atom((get) => get(standAtom).redoes)

function UndoButtons() {
  const desk = useAtomValue(deskAtom)
  const undoes = useAtomValue(undoesAtom)
  const redoes = useAtomValue(redoesAtom)
  return (
    <>
      <button
        className="icon-button"
        disabled={!undoes}
        onClick={desk.undo}
        aria-label="Undo"
        title={undoes ? `Undo: ${undoes}` : 'Nothing to undo'}
      >
        <Undo2 className="h-4 w-4" aria-hidden />
      </button>
      <button
        className="icon-button"
        disabled={!redoes}
        onClick={desk.redo}
        aria-label="Redo"
        title={redoes ? `Redo: ${redoes}` : 'Nothing to redo'}
      >
        <Redo2 className="h-4 w-4" aria-hidden />
      </button>
    </>
  )
}

const savingAtom = atom((get) => get(standAtom).saving)
const problemAtom = atom((get) => get(standAtom).problem)

function SaveState() {
  const saving = useAtomValue(savingAtom)
  const problem = useAtomValue(problemAtom)
  const text = saving === 'saved' ? 'Saved' : saving === 'saving' ? 'Saving' : 'Not saved'
  return (
    <span
      role="status"
      title={problem}
      className={`shrink-0 text-[11px] ${saving === 'waiting' ? 'text-safe' : 'text-quiet'}`}
    >
      {text}
    </span>
  )
}
