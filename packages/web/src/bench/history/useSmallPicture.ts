import type { Development } from '@dunkelkammer/core'
import { fitInto, type Picture, type View } from '@dunkelkammer/engine/browser'
import { useEffect, useState } from 'react'

/** A small view of the whole picture under some settings, made when it is wanted. */
export function useSmallPicture(
  picture: Picture | undefined,
  development: Development | undefined,
  most: { width: number; height: number },
): View | undefined {
  const [view, setView] = useState<View>()
  const { width, height } = most
  useEffect(() => {
    setView(undefined)
    if (!picture || !development) return
    const stop = new AbortController()
    const make = async () => {
      const frame = await picture.square(development)
      const size = fitInto(frame.width, frame.height, width, height)
      const region = { x: 0, y: 0, ...size }
      // apart from what is kept for the picture that is worked on
      setView(await picture.view({ development, ...size, region, beside: true }, stop.signal))
    }
    // without it the words remain
    make().catch(() => undefined)
    return () => stop.abort()
  }, [picture, development, width, height])
  return view
}
