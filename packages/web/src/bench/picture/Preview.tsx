import { fitLongEdge } from '@dunkelkammer/engine/browser'
import { useLayoutEffect, useRef, type CSSProperties } from 'react'

/** Long edge in which it is kept: no screen shows more of it for the moment that it is there. */
const LONG_EDGE = 2048

/** The one that was wanted last. */
let last: { url: string; bitmap: Promise<ImageBitmap> } | undefined

async function load(url: string): Promise<ImageBitmap> {
  const response = await fetch(url)
  if (!response.ok) throw new Error('no preview')
  return createImageBitmap(await response.blob())
}

function bitmapOf(url: string): Promise<ImageBitmap> {
  if (last?.url !== url) {
    last?.bitmap.then(
      (bitmap) => bitmap.close(),
      () => undefined,
    )
    last = { url, bitmap: load(url) }
  }
  return last.bitmap
}

/**
 * The camera's own picture, until the development is ready; nothing where it cannot be had. It is drawn from a bitmap
 * that is closed again: what an image element has decoded browsers keep long after it is gone.
 */
export function Preview(props: { url: string; label: string; className: string; style?: CSSProperties }) {
  const { url } = props
  const canvas = useRef<HTMLCanvasElement>(null)
  useLayoutEffect(() => {
    const element = canvas.current!
    let gone = false
    bitmapOf(url).then(
      (bitmap) => {
        if (gone || bitmap.width === 0) return
        const { width, height } = fitLongEdge(bitmap.width, bitmap.height, LONG_EDGE)
        Object.assign(element, { width, height })
        element.getContext('2d')!.drawImage(bitmap, 0, 0, width, height)
      },
      () => undefined,
    )
    return () => {
      gone = true
      Object.assign(element, { width: 0, height: 0 })
    }
  }, [url])
  return (
    <canvas
      ref={canvas}
      width={0}
      height={0}
      role="img"
      aria-label={props.label}
      className={props.className}
      style={props.style}
    />
  )
}
