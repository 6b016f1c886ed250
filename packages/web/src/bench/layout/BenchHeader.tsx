import { ChevronLeft, History, Redo2, Undo2 } from 'lucide-react'
import { Link } from 'react-router'
import { asQuery } from '../../sheet/useSheet'
import { StageLine } from './StageLine'
import type { BenchParts } from '../useBench'

/** The line at the top: the frame, the stages, undo, history and delivery. */
export function BenchHeader({ bench }: { bench: BenchParts }) {
  const {
    shoot,
    desk,
    stage,
    carried,
    stageChosen,
    stageHeld,
    frame,
    development,
    undoes,
    redoes,
    saving,
    saveProblem,
    setDialog,
    heldOff,
    history,
    setHistory,
  } = bench
  return (
    <header className="flex h-[60px] shrink-0 border-b border-line bg-panel">
      <div className="flex w-[320px] shrink-0 items-center gap-2 border-r border-line px-3">
        <Link
          to={`/shoots/${frame.shootId}${asQuery(carried)}`}
          state={{ at: frame.id }}
          className="icon-button"
          aria-label="Back to the contact sheet"
        >
          <ChevronLeft className="h-5 w-5" aria-hidden />
        </Link>
        <div className="min-w-0 flex-1">
          <h1 className="truncate text-bright" title={frame.fileName}>
            {frame.fileName}
          </h1>
          <p className="truncate text-[11px] text-quiet" title={shoot.shoot.name}>
            {shoot.shoot.name}
          </p>
        </div>
        <SaveState saving={saving} problem={saveProblem} />
      </div>
      <StageLine
        development={development}
        heldOff={heldOff}
        stage={stage}
        onChoose={stageChosen}
        onHold={stageHeld}
      />
      <div className="flex shrink-0 items-center gap-1 border-l border-line px-2">
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
        <button
          className="icon-button"
          aria-pressed={history === 'open'}
          aria-label="History"
          title="History (E)"
          onClick={() => setHistory(history === 'open' ? 'closed' : 'open')}
        >
          <History className="h-4 w-4" aria-hidden />
        </button>
        <button className="button" onClick={() => setDialog('deliver')}>
          Deliver
        </button>
      </div>
    </header>
  )
}

function SaveState({ saving, problem }: { saving: 'saved' | 'saving' | 'waiting'; problem?: string }) {
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
