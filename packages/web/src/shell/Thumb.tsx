import { useState } from 'react'
import { api } from '../api/client'

/** The thumbnail of a frame; a quiet card while there is none. */
export function Thumb({
  frame,
  className = '',
  eager,
}: {
  frame: { id: string; thumb: string; hasPreview?: boolean }
  className?: string
  eager?: boolean
}) {
  const url = api.thumbUrl(frame)
  const [missing, setMissing] = useState('')
  // nothing to ask for: neither has the file a picture nor is the development ready
  if (missing === url || (frame.thumb === '' && frame.hasPreview === false))
    return (
      <div className={`flex items-center justify-center bg-raised text-quiet ${className}`}>
        <span className="px-2 text-center text-[11px]">no picture yet</span>
      </div>
    )
  return (
    <img
      src={url}
      alt=""
      loading={eager ? 'eager' : 'lazy'}
      decoding="async"
      draggable={false}
      onError={() => setMissing(url)}
      className={`object-contain ${className}`}
    />
  )
}
