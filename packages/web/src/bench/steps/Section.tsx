import { useAtom, useSetAtom } from 'jotai'
import { ChevronDown, ChevronRight } from 'lucide-react'
import { useEffect, type ReactNode } from 'react'
import { sectionAtom, shownSectionsAtom, usedSectionAtom } from './sections'

/** A part of the drawer that can be folded. */
export function Section(props: {
  title: string
  /** Folded until the user opens it. */
  folded?: boolean
  /** Its dot: it changes the picture, or is switched off. */
  state?: 'changed' | 'off'
  /** What stands beside the title. */
  tools?: ReactNode
  children: ReactNode
}) {
  const { title, state } = props
  const [fold, setFold] = useAtom(sectionAtom(title, props.folded))
  const setShown = useSetAtom(shownSectionsAtom)
  const setUsed = useSetAtom(usedSectionAtom)
  useEffect(() => {
    setShown((all) => new Set([...all, title]))
    return () => setShown((all) => new Set([...all].filter((other) => other !== title)))
  }, [setShown, title])
  const open = fold === 'open'
  const use = () => setUsed(title)
  const Mark = open ? ChevronDown : ChevronRight
  return (
    <section
      className="border-t border-line first:border-t-0"
      aria-label={title}
      onFocusCapture={use}
      onPointerDownCapture={use}
    >
      <div className="section-head flex items-center gap-1">
        <h3 className="min-w-0 flex-1">
          <button
            className={`flex w-full items-center gap-1 py-1 text-left ${state ? 'text-bright' : 'text-text'}`}
            aria-expanded={open}
            onClick={() => setFold(open ? 'closed' : 'open')}
          >
            <Mark className="h-3.5 w-3.5 shrink-0 text-quiet" aria-hidden />
            <span className="truncate">{title}</span>
            {state && (
              <span
                aria-hidden
                className={`ml-1 h-1.5 w-1.5 shrink-0 rounded-full ${state === 'off' ? 'bg-edge' : 'bg-safe'}`}
              />
            )}
          </button>
        </h3>
        {props.tools}
      </div>
      {open && <div className="section-body">{props.children}</div>}
    </section>
  )
}
