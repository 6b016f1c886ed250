import { ProblemList } from '../shell/ProblemList'
import { X } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { cancelBringingIn, putAway, useBringingIn, type BringingIn } from './store'

const inWords = (seconds: number) =>
  seconds < 90 ? `${Math.ceil(seconds)} s` : `${Math.ceil(seconds / 60)} min`

/** Count, rate and time that is left. */
export function progressOf(b: BringingIn, now: number): string {
  const counted = `${b.done} of ${b.all}`
  const seconds = (now - b.began) / 1000
  if (b.done === 0 || seconds < 1) return counted
  const rate = b.done / seconds
  const left = ((b.bytes - b.bytesDone) / Math.max(b.bytesDone, 1)) * seconds
  return `${counted}, ${rate.toFixed(1)} a second, ${inWords(left)} left`
}

function outcomeOf(b: BringingIn): string {
  const parts = [
    `${b.added} brought in`,
    b.known ? `${b.known} there already` : '',
    b.restored ? `${b.restored} missing or damaged put back` : '',
    b.problems.length ? `${b.problems.length} with problems` : '',
    b.cancelled ? `cancelled with ${b.all - b.done} not begun` : '',
  ]
  return `${parts.filter(Boolean).join(', ')}.`
}

/** Files that are coming in, in the top line of every page, and what came of it. */
export function BringInLine() {
  const b = useBringingIn()
  const [listed, setListed] = useState(false)
  if (!b) return null
  const open = b.took === undefined
  return (
    <div className="relative ml-auto flex min-w-0 items-center gap-3 text-[12px]" role="status">
      {open && (
        <span className="h-[3px] w-24 shrink-0 bg-edge" aria-hidden>
          <span className="block h-full bg-safe" style={{ width: `${(b.bytesDone / b.bytes) * 100}%` }} />
        </span>
      )}
      <Link to={`/shoots/${b.shootId}`} className="max-w-40 truncate text-quiet hover:text-bright">
        {b.shootName}
      </Link>
      <span className="whitespace-nowrap">{open ? progressOf(b, Date.now()) : outcomeOf(b)}</span>
      {b.problems.length > 0 && (
        <button className="button !py-0.5" aria-expanded={listed} onClick={() => setListed(!listed)}>
          {b.problems.length} {b.problems.length === 1 ? 'problem' : 'problems'}
        </button>
      )}
      {open ? (
        <button className="button !py-0.5" onClick={cancelBringingIn}>
          Cancel
        </button>
      ) : (
        <button className="icon-button" aria-label="Close" onClick={putAway}>
          <X className="h-4 w-4" aria-hidden />
        </button>
      )}
      {listed && (
        <ProblemList
          problems={b.problems}
          className="absolute top-9 right-0 z-40 max-h-80 w-[440px] border border-edge bg-panel p-3"
        />
      )}
    </div>
  )
}
