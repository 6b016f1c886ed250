import { stageSummary } from '@dunkelkammer/core'
import { atom, useAtom, useAtomValue } from 'jotai'
import { selectAtom } from 'jotai/utils'
import { Eye, EyeOff, Pin } from 'lucide-react'
import { developmentAtom, heldOffAtom, ownDrawerAtom, routesAtom, stageAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { STAGE_LIST } from '../state/stages'

const summariesAtom = selectAtom(
  atom((get) => {
    const development = get(developmentAtom)
    return STAGE_LIST.map(({ id }) => stageSummary(id, development))
  }),
  (all) => all,
  (a, b) => a.join('\n') === b.join('\n'),
)

/** The way through the work, and the list of what was done. */
export function StageLine() {
  const { chooseStage, get } = useBench()
  const own = useAtomValue(ownDrawerAtom)
  const summaries = useAtomValue(summariesAtom)
  const stage = useAtomValue(stageAtom)
  const [heldOff, setHeldOff] = useAtom(heldOffAtom)
  return (
    <nav aria-label="Stages" className="flex min-w-0 flex-1">
      <button
        aria-current={own ? 'step' : undefined}
        title="Own drawer: controls that you have pinned (Alt+0)"
        onClick={() => get(routesAtom).link({ drawer: 'own' })}
        className={`flex w-14 shrink-0 flex-col items-center border-r border-line pt-2 ${own ? 'bg-raised text-bright' : 'text-text'}`}
      >
        <Pin className={`h-[15px] w-[15px] ${own ? 'text-safe' : 'text-quiet'}`} aria-hidden />
        <span>Own</span>
      </button>
      {STAGE_LIST.map(({ id, name, open }, i) => {
        const summary = summaries[i]
        const held = heldOff.includes(id)
        const here = stage === id && !own
        return (
          <div key={id} className="group relative min-w-0 flex-1">
            <span className="absolute top-[15px] right-0 left-0 h-px bg-line" aria-hidden />
            <button
              disabled={!open}
              aria-current={here ? 'step' : undefined}
              title={open ? undefined : `${name} is not part of this edition`}
              onClick={() => chooseStage(id)}
              className={`relative flex h-full w-full flex-col items-center px-1 pt-2 ${here ? 'bg-raised' : ''}`}
            >
              <span
                aria-hidden
                className={`box-border h-[15px] w-[15px] rounded-full border-[3px] ${
                  open ? (here ? 'border-raised' : 'border-panel') : 'border-panel'
                } ${!open ? 'bg-line' : summary ? (held ? 'bg-edge' : 'bg-safe') : 'bg-quiet'}`}
              />
              <span className={`truncate ${!open ? 'text-edge' : here ? 'text-bright' : 'text-text'}`}>
                {name}
              </span>
              <span
                className={`block h-4 w-full truncate px-1 text-center text-[11px] text-quiet ${held ? 'line-through' : ''}`}
                title={summary || undefined}
              >
                {summary}
              </span>
            </button>
            {open && (summary || held) && (
              <button
                aria-label={`Switch ${name} off for now`}
                aria-pressed={held}
                title={held ? `${name} is held off: let it in again` : `Switch ${name} off for now`}
                onClick={() => setHeldOff(held ? heldOff.filter((h) => h !== id) : [...heldOff, id])}
                className={`absolute top-0.5 right-1 flex h-6 w-6 items-center justify-center ${held ? 'text-safe' : 'text-quiet hover:text-bright'}`}
              >
                {held ? (
                  <EyeOff className="h-3.5 w-3.5" aria-hidden />
                ) : (
                  <Eye className="h-3.5 w-3.5" aria-hidden />
                )}
              </button>
            )}
          </div>
        )
      })}
    </nav>
  )
}
