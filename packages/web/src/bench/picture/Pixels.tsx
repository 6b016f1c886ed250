import type { View } from '@dunkelkammer/engine/browser'
import { useLayoutEffect, useRef } from 'react'

/** A canvas that holds computed pixels one to one; its place and size come from outside. */
export function Pixels(props: {
  rgba: Uint8ClampedArray<ArrayBuffer>
  /** The space of the pixels; sRGB where missing. */
  display?: View['display']
  width: number
  height: number
  left: number
  top: number
  /** CSS pixels a computed pixel. */
  pixel: number
  className?: string
  label?: string
  /** False while it stands in for an exact picture that is on its way. */
  exact?: boolean
}) {
  const { rgba, width, height, pixel } = props
  // of all spaces, these are what pages know
  const colorSpace = props.display === 'display-p3' ? 'display-p3' : 'srgb'
  const canvas = useRef<HTMLCanvasElement>(null)
  useLayoutEffect(() => {
    const element = canvas.current!
    if (element.width !== width) element.width = width
    if (element.height !== height) element.height = height
    const pixels = new ImageData(rgba, width, height, { colorSpace })
    element.getContext('2d', { colorSpace })!.putImageData(pixels, 0, 0)
  }, [rgba, width, height, colorSpace])
  useLayoutEffect(() => {
    const element = canvas.current!
    // its memory goes with it, not with some later collection
    return () => void Object.assign(element, { width: 0, height: 0 })
  }, [colorSpace])
  const device = pixel * (globalThis.devicePixelRatio || 1)
  return (
    <canvas
      // a canvas keeps the space that it was begun with
      key={colorSpace}
      ref={canvas}
      role={props.label ? 'img' : undefined}
      aria-label={props.label}
      data-exact={props.exact}
      aria-hidden={props.label ? undefined : true}
      className={`pointer-events-none absolute ${props.className ?? ''}`}
      style={{
        left: props.left,
        top: props.top,
        width: width * pixel,
        height: height * pixel,
        imageRendering: device >= 1.5 ? 'pixelated' : 'auto',
      }}
    />
  )
}
