import type { Estimate, ExpectedFile } from '@dunkelkammer/contract'
import type { Delivery } from '@dunkelkammer/core'
import { useVirtualizer } from '@tanstack/react-virtual'
import { X } from 'lucide-react'
import { useRef } from 'react'
import { megabytes } from '../shell/format'

const ROW = 28
const inFolder = (path: string) => /^(.*?)([^/\\]*)$/.exec(path)!.slice(1)

/** What becomes of a file whose name is taken. */
const TAKEN: Readonly<Record<Delivery['taken'], string>> = {
  number: 'numbered',
  replace: 'replaces a file',
  skip: 'skipped, it is there',
}

/** The files that will be made, each with its place; frames can be left out. */
export function ExpectedList(props: {
  files: readonly ExpectedFile[]
  deliveries: readonly Delivery[]
  /** About how large, by frame and delivery, as far as that is known. */
  sizes: ReadonlyMap<string, Estimate>
  onDrop?(frameId: string): void
}) {
  const box = useRef<HTMLDivElement>(null)
  const { files, deliveries, sizes, onDrop } = props
  const rows = useVirtualizer({
    count: files.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 8,
  })
  return (
    <div
      ref={box}
      className="min-h-0 flex-1 overflow-y-auto border border-line"
      tabIndex={0}
      aria-label="Files"
    >
      <ul className="relative" style={{ height: rows.getTotalSize() }}>
        {rows.getVirtualItems().map(({ index, start }) => {
          const file = files[index]
          const [folder, name] = inFolder(file.path)
          return (
            <li
              key={`${file.frameId} ${file.delivery}`}
              className="absolute inset-x-0 flex items-center gap-2 px-3"
              style={{ top: start, height: ROW }}
            >
              <span className="min-w-0 flex-1 truncate" title={file.path}>
                <span className={file.problem ? 'text-quiet line-through' : 'text-bright'}>{name}</span>{' '}
                <span className="text-[12px] text-quiet">{folder}</span>
              </span>
              {(file.problem || file.taken) && (
                <span className="max-w-56 truncate text-[12px] text-info" title={file.problem}>
                  {file.problem ?? TAKEN[deliveries[file.delivery]?.taken ?? 'number']}
                </span>
              )}
              <Size bytes={sizes.get(file.frameId)?.bytes[file.delivery]} />
              {onDrop && (
                <button
                  type="button"
                  className="icon-button !h-6 !w-6"
                  aria-label={`Leave out ${file.frameName}`}
                  title={`Leave out ${file.frameName}`}
                  onClick={() => onDrop(file.frameId)}
                >
                  <X className="h-3.5 w-3.5" aria-hidden />
                </button>
              )}
            </li>
          )
        })}
      </ul>
    </div>
  )
}

const Size = ({ bytes }: { bytes?: number }) => (
  <span className="w-20 shrink-0 text-right text-[12px] text-quiet">
    {bytes !== undefined && `≈ ${megabytes(bytes)}`}
  </span>
)
