import type { Frame, Version } from '@dunkelkammer/contract'
import { useEffect, useRef } from 'react'
import { Link } from 'react-router'
import { Thumb } from '../shell/Thumb'

/** The frames of the shoot, upright like film hung to dry, and the versions of this frame. */
export function Strip(props: {
  frames: readonly Frame[]
  frameId: string
  search: string
  versions: readonly Version[]
  versionId?: string
}) {
  const here = useRef<HTMLLIElement>(null)
  useEffect(() => {
    // newer browsers answer with a promise, which an effect must not return
    void here.current?.scrollIntoView({ block: 'nearest' })
  }, [props.frameId, props.frames.length])
  return (
    <aside aria-label="Strip" className="flex w-[132px] shrink-0 flex-col border-l border-line bg-panel">
      <ol className="min-h-0 flex-1 overflow-y-auto px-3 py-3" aria-label="Frames of the shoot">
        {props.frames.map((frame) => {
          const current = frame.id === props.frameId
          return (
            <li key={frame.id} ref={current ? here : undefined} className="mb-3">
              <Link
                to={`/shoots/${frame.shootId}/frames/${frame.id}${props.search}`}
                aria-current={current ? 'true' : undefined}
                className={`block border bg-night p-1 ${current ? 'border-safe' : 'border-line hover:border-edge'}`}
              >
                <Thumb frame={frame} className="h-[66px] w-full" />
                <span
                  className="block truncate pt-1 text-center text-[11px] text-quiet"
                  title={frame.fileName}
                >
                  {frame.fileName}
                </span>
              </Link>
            </li>
          )
        })}
      </ol>
      <div className="shrink-0 border-t border-line px-3 py-2">
        <h2 className="mb-1 text-[11px] text-quiet">Versions</h2>
        <ul>
          {props.versions.map((v) => (
            <li key={v.id} className={`truncate ${v.id === props.versionId ? 'text-bright' : 'text-text'}`}>
              {v.name}
            </li>
          ))}
        </ul>
      </div>
    </aside>
  )
}
