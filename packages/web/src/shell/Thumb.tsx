import type { Frame } from '@dunkelkammer/contract'
import { useState } from 'react'
import { api } from '../api/client'

/** The camera's own small picture of a frame; a quiet card where the file holds none. */
export function Thumb({
  frame,
  className = '',
}: {
  frame: Pick<Frame, 'id'> & Partial<Frame>
  className?: string
}) {
  const [missing, setMissing] = useState(frame.hasPreview === false)
  if (missing)
    return (
      <div className={`flex items-center justify-center bg-raised text-quiet ${className}`}>
        <span className="px-2 text-center text-[11px]">no preview in the file</span>
      </div>
    )
  return (
    <img
      src={api.previewUrl(frame.id)}
      alt=""
      loading="lazy"
      draggable={false}
      onError={() => setMissing(true)}
      className={`object-contain ${className}`}
    />
  )
}
