import { useAtom, useAtomValue } from 'jotai'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useRef } from 'react'
import { Link } from 'react-router'
import { Stars } from '../../sheet/Stars'
import { Thumb } from '../../shell/Thumb'
import { addressAtom, pageAtom, versionAtom } from '../state/atoms'
import { compareLinkAtom } from '../versions/sideBySide'
import { stripAtom, stripSearchAtom } from './carried'
import { VersionList } from '../versions/VersionList'
import { manyAtom } from '../many/many'
import { FoldButton, FoldedSide } from './Fold'
import { stripShownAtom } from './room'

const STEP = 122
const SIDE = { name: 'strip', keys: 'S', side: 'right', shown: stripShownAtom } as const

/** The frames of the sheet, upright like film hung to dry, and the versions of this frame. */
export function Strip() {
  return useAtomValue(stripShownAtom) ? <Frames /> : <FoldedSide {...SIDE} />
}

function Frames() {
  const page = useAtomValue(pageAtom)
  const { id: versionId } = useAtomValue(versionAtom)
  const search = useAtomValue(stripSearchAtom)
  const address = useAtomValue(addressAtom)
  const compareLink = useAtomValue(compareLinkAtom)
  const frames = useAtomValue(stripAtom)
  const frameId = page.frame.id
  const versionLink = (id: string) => {
    const to = new URLSearchParams(address)
    to.set('version', id)
    return `?${to.toString()}`
  }
  const [many, setMany] = useAtom(manyAtom)
  const choose = (id: string, range: boolean) => {
    const before = many?.ids ?? [frameId]
    const places = [frames.findIndex((f) => f.id === frameId), frames.findIndex((f) => f.id === id)]
    const between = frames.slice(Math.min(...places), Math.max(...places) + 1).map((f) => f.id)
    const next = range
      ? [...new Set([...before, ...between])]
      : before.includes(id) && id !== frameId
        ? before.filter((other) => other !== id)
        : [...new Set([...before, id])]
    setMany({ ids: next, how: many?.how ?? 'value' })
  }
  const room = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count: frames.length,
    getScrollElement: () => room.current,
    estimateSize: () => STEP,
    paddingStart: 4,
    overscan: 3,
  })
  const at = frames.findIndex((f) => f.id === frameId)
  useEffect(() => {
    if (at >= 0) virtual.scrollToIndex(at, { align: 'auto' })
  }, [at, virtual])
  return (
    <aside aria-label="Strip" className="flex w-[132px] shrink-0 flex-col border-l border-line bg-panel">
      <div className="flex h-9 shrink-0 items-center pt-1 pr-2 pl-3 text-[11px] text-quiet">
        <span className="flex-1 tabular-nums">{at >= 0 && `${at + 1} of ${frames.length}`}</span>
        <FoldButton {...SIDE} />
      </div>
      <div ref={room} className="min-h-0 flex-1 overflow-y-auto" tabIndex={-1}>
        <ol className="relative" style={{ height: virtual.getTotalSize() }} aria-label="Frames of the sheet">
          {virtual.getVirtualItems().map(({ index, start, key }) => {
            const frame = frames[index]
            const current = frame.id === frameId
            const also = many?.ids.includes(frame.id)
            return (
              <li
                key={key}
                className="absolute inset-x-3"
                style={{ transform: `translateY(${start}px)` }}
                aria-setsize={frames.length}
                aria-posinset={index + 1}
              >
                <Link
                  to={`/shoots/${frame.shootId}/frames/${frame.id}?${search}`}
                  aria-current={current ? 'true' : undefined}
                  aria-description={also && !current ? 'Worked on too' : undefined}
                  className={`block border bg-night p-1 ${current ? 'border-safe' : also ? 'border-quiet bg-raised' : 'border-line hover:border-edge'}`}
                  title="Click to open, with Ctrl or Shift to work on several frames"
                  onClick={(e) => {
                    if (!e.ctrlKey && !e.metaKey && !e.shiftKey) return
                    e.preventDefault()
                    choose(frame.id, e.shiftKey)
                  }}
                >
                  <Thumb frame={frame} eager className="h-[66px] w-full" />
                  <span
                    className="block truncate pt-1 text-center text-[11px] text-quiet"
                    title={frame.fileName}
                  >
                    {frame.fileName}
                  </span>
                  <span className="flex h-3 justify-center">
                    {frame.rating > 0 && <Stars rating={frame.rating} size={9} />}
                  </span>
                </Link>
              </li>
            )
          })}
        </ol>
        {frames.length === 0 && (
          <p className="px-3 text-[11px] text-quiet">No frame passes the filters of the sheet.</p>
        )}
      </div>
      <VersionList {...{ page, versionId, versionLink, compareLink }} />
    </aside>
  )
}
