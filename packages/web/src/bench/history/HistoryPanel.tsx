import type { Development } from '@dunkelkammer/core'
import type { Picture } from '@dunkelkammer/engine/browser'
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react'
import { useVirtualizer } from '@tanstack/react-virtual'
import { Ellipsis, X } from 'lucide-react'
import { useCallback, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react'
import { sentence as problemOf } from '../../api/client'
import { NameField } from '../../controls/NameField'
import type { DeskState, VersionDesk } from '../../desk/versionDesk'
import { Pixels } from '../picture/Pixels'
import { Differences } from './Differences'
import { foundRows, historyRows, type HistoryRow } from './rows'
import { useSmallPicture } from './useSmallPicture'
import { clockTime } from '../../shell/format'

const ROW = 46
/** How long a row is looked at before its picture is made. */
const LOOK_MS = 300
const SMALL = { width: 268, height: 112 }

interface Props {
  desk: VersionDesk
  state: DeskState
  picture?: Picture
  onClose(): void
  /** A new version that begins at a place. */
  onVersion(place: HistoryRow['place']): void
  /** The picture is compared with how it was at a place. */
  onBefore(place: HistoryRow['place'], called: string): void
}

/** What was done to a version, the newest first: to be read, found, gone to, named. */
export function HistoryPanel(props: Props) {
  const { desk, state, picture } = props
  const [words, setWords] = useState('')
  const [problem, setProblem] = useState<string>()
  const more = useEarlier(desk, words !== '', setProblem)
  // the picture comes first where both want to be drawn
  const stand = useDeferredValue(state)
  const rows = useMemo(
    () => historyRows(desk.entries(), stand, more ? undefined : desk.begun.label),
    [desk, stand, more],
  )
  const found = useMemo(() => foundRows(rows, words, clockTime), [rows, words])
  const room = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count: found.length,
    getScrollElement: () => room.current,
    estimateSize: () => ROW,
    overscan: 6,
  })
  const shown = virtual.getVirtualItems()
  const last = shown.at(-1)?.index ?? 0
  useEffect(() => {
    if (more && last >= found.length - 10) more()
  }, [more, last, found.length])

  const [looked, look] = useState<HistoryRow>()
  const [against, setAgainst] = useState<HistoryRow>()
  const there = useSettingsAt(desk, looked ?? against)
  const view = useSmallPicture(picture, there, SMALL)
  const [naming, setNaming] = useState<HistoryRow['place']>()
  const go = (row: HistoryRow) => {
    setProblem(undefined)
    desk.goTo(row.place, row.end).catch((error: unknown) => setProblem(problemOf(error)))
  }
  const told = looked ?? against
  return (
    <aside aria-label="History" className="flex w-[300px] shrink-0 flex-col border-l border-line bg-panel">
      <div className="flex items-center justify-between border-b border-line py-2 pr-2 pl-4">
        <h2 className="font-semibold text-bright">History</h2>
        <button className="icon-button" aria-label="Close the history" onClick={props.onClose}>
          <X className="h-4 w-4" aria-hidden />
        </button>
      </div>
      <div className="border-b border-line p-2">
        <input
          type="search"
          className="field w-full"
          aria-label="Find in the history"
          placeholder="Find by words"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
      </div>
      <div
        ref={room}
        className="min-h-0 flex-1 overflow-y-auto"
        tabIndex={-1}
        onPointerLeave={() => look(undefined)}
      >
        <ol className="relative" style={{ height: virtual.getTotalSize() }} aria-label="Entries">
          {shown.map(({ index, start }) => {
            const row = found[index]
            return (
              <li
                key={row.place ?? 'begun'}
                className="absolute inset-x-0"
                style={{ transform: `translateY(${start}px)`, height: ROW }}
                aria-setsize={found.length}
                aria-posinset={index + 1}
              >
                {row.place !== null && naming === row.place ? (
                  <div className="flex h-full items-center px-3">
                    <NameField
                      label="Name of the entry"
                      name={row.name ?? ''}
                      onDone={(name) => {
                        setNaming(undefined)
                        if (name !== undefined) desk.nameEntry(row.place!, name || null)
                      }}
                    />
                  </div>
                ) : (
                  <Row
                    row={row}
                    onGo={() => go(row)}
                    onLook={() => look(row)}
                    onName={row.place === null ? undefined : () => setNaming(row.place)}
                    onVersion={() => props.onVersion(row.place)}
                    onBefore={() => props.onBefore(row.place, row.name ?? row.sentence)}
                    onCompare={() => setAgainst(row)}
                  />
                )}
              </li>
            )
          })}
        </ol>
        {found.length === 0 && <p className="px-4 py-3 text-quiet">No entry holds these words.</p>}
      </div>
      {problem && (
        <p role="alert" className="border-t border-line px-4 py-2 text-info">
          {problem}
        </p>
      )}
      <section aria-label="The entry looked at" className="border-t border-line px-4 py-2">
        <div className="relative mb-2 h-[112px] w-full bg-night">
          {view && (
            <Pixels
              rgba={view.rgba}
              width={view.width}
              height={view.height}
              left={(SMALL.width - view.width) / 2}
              top={(SMALL.height - view.height) / 2}
              pixel={1}
              label="The picture at that entry"
            />
          )}
          {!told && (
            <p className="absolute inset-0 flex items-center justify-center px-6 text-center text-[12px] text-quiet">
              Rest on an entry to see its picture, and what has changed since.
            </p>
          )}
        </div>
        <div className="h-[96px] overflow-y-auto">
          {told && (
            <h3 className="flex items-baseline justify-between gap-2 pb-1 text-[12px] text-quiet">
              <span className="truncate" title={told.name ?? told.sentence}>
                Since “{told.name ?? told.sentence}”
              </span>
              {against && !looked && (
                <button
                  className="shrink-0 underline hover:text-bright"
                  onClick={() => setAgainst(undefined)}
                >
                  Done
                </button>
              )}
            </h3>
          )}
          {there && <Differences from={there} to={state.development} />}
        </div>
      </section>
    </aside>
  )
}

function Row(props: {
  row: HistoryRow
  onGo(): void
  onLook(): void
  onName?(): void
  onVersion(): void
  onBefore(): void
  onCompare(): void
}) {
  const { row } = props
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined)
  const rest = () => {
    clearTimeout(timer.current)
    timer.current = setTimeout(props.onLook, LOOK_MS)
  }
  useEffect(() => () => clearTimeout(timer.current), [])
  const here = row.lies === 'here'
  const tone = here ? 'text-bright' : row.lies === 'behind' ? 'text-text' : 'text-quiet'
  return (
    <div
      className={`group flex h-full items-stretch ${here ? 'bg-raised' : 'hover:bg-raised/50'} ${row.lies === 'aside' ? 'pl-4' : ''}`}
      onPointerEnter={rest}
      onPointerLeave={() => clearTimeout(timer.current)}
    >
      <button
        className={`flex min-w-0 flex-1 items-center gap-2 py-1 pl-3 text-left ${tone}`}
        aria-current={here ? 'step' : undefined}
        title={row.lies === 'aside' ? `${row.sentence} (another branch)` : row.sentence}
        onClick={props.onGo}
        onFocus={rest}
      >
        <span
          aria-hidden
          className={`h-2 w-2 shrink-0 rounded-full ${here ? 'bg-safe' : row.lies === 'behind' ? 'bg-quiet' : 'border border-quiet'}`}
        />
        <span className="min-w-0 flex-1">
          {row.name && <span className="block truncate text-bright">{row.name}</span>}
          <span className={row.name ? 'block truncate text-[11px]' : 'line-clamp-2 leading-[1.25]'}>
            {row.sentence}
          </span>
        </span>
        {row.time && (
          <time dateTime={row.time} className="shrink-0 text-[11px] text-quiet tabular-nums">
            {clockTime(row.time)}
          </time>
        )}
      </button>
      <Menu>
        <MenuButton
          className="flex w-7 shrink-0 items-center justify-center text-quiet opacity-0 group-hover:opacity-100 hover:text-bright focus-visible:opacity-100 data-open:opacity-100"
          aria-label={`More for ${row.name ?? row.sentence}`}
        >
          <Ellipsis className="h-4 w-4" aria-hidden />
        </MenuButton>
        <MenuItems modal={false} anchor="bottom end" className="menu z-40">
          {props.onName && (
            <MenuItem>
              <button className="menu-item" onClick={props.onName}>
                {row.name ? 'Change its name' : 'Give it a name'}
              </button>
            </MenuItem>
          )}
          <MenuItem>
            <button className="menu-item" onClick={props.onVersion}>
              New version from here
            </button>
          </MenuItem>
          <MenuItem>
            <button className="menu-item" onClick={props.onBefore}>
              Compare the picture with this
            </button>
          </MenuItem>
          <MenuItem>
            <button className="menu-item" onClick={props.onCompare}>
              Show what changed since
            </button>
          </MenuItem>
        </MenuItems>
      </Menu>
    </div>
  )
}

/**
 * Fetches the history page by page.
 * @param all whether all of it is wanted
 * @returns how to fetch the next page, while there are more
 */
function useEarlier(
  desk: VersionDesk,
  all: boolean,
  say: (problem: string) => void,
): (() => void) | undefined {
  const [more, setMore] = useState(true)
  const [pages, setPages] = useState(0)
  const busy = useRef(false)
  const latest = useRef(say)
  latest.current = say
  const fetch = useCallback(() => {
    if (busy.current) return
    busy.current = true
    desk
      .fetchEarlier()
      .then(
        (still) => {
          setMore(still)
          setPages((n) => n + 1)
        },
        (error: unknown) => latest.current(problemOf(error)),
      )
      .finally(() => {
        busy.current = false
      })
  }, [desk])
  useEffect(() => {
    setMore(true)
    fetch()
  }, [fetch])
  useEffect(() => {
    if (all && more && pages > 0) fetch()
  }, [all, more, pages, fetch])
  return more ? fetch : undefined
}

/** The settings at a row, once they are known. */
function useSettingsAt(desk: VersionDesk, row: HistoryRow | undefined): Development | undefined {
  const [there, setThere] = useState<{ place: HistoryRow['place']; development: Development }>()
  const place = row?.place
  useEffect(() => {
    if (place === undefined) return
    let wanted = true
    desk.developmentAt(place).then(
      (development) => wanted && setThere({ place, development }),
      // its words are there all the same
      () => undefined,
    )
    return () => {
      wanted = false
    }
  }, [desk, place])
  return there && there.place === place ? there.development : undefined
}
