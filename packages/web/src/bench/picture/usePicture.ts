import type { Engine, Picture } from '@dunkelkammer/engine/browser'
import { useEffect, useState } from 'react'
import { isOriginalLost, sentence } from '../../api/client'
import { theEngine } from '../../engine/engine'
import { fetchOriginal, forgetOriginal, keeperOf } from '../../engine/originals'
import { inSteps } from './inSteps'

export interface Opening {
  picture?: Picture
  shared?: boolean
  /** What is being done until then. */
  label: string
  share?: number
  problem?: string
  /** The original is missing or was changed; the file can be chosen. */
  lost?: boolean
}

/** Opens a frame's original in this page's engine; closes it when the frame changes. */
export function usePicture(frameId: string | undefined, attempt: number): Opening {
  const [opening, setOpening] = useState<Opening>({ label: 'Loading the original' })
  useEffect(() => {
    if (!frameId) return
    const stop = new AbortController()
    let opened: { engine: Engine; picture: Picture } | undefined
    setOpening({ label: 'Loading the original' })
    const open = async () => {
      const [engine, bytes] = await Promise.all([theEngine(), fetchOriginal(frameId)])
      if (stop.signal.aborted) return
      setOpening({ label: 'Reading the raw data' })
      const progress = inSteps((share) => {
        if (!stop.signal.aborted) setOpening({ label: 'Reading the raw data', share })
      })
      const picture = await engine.open(new Uint8Array(bytes), stop.signal, progress, keeperOf(frameId))
      forgetOriginal(frameId)
      if (stop.signal.aborted) return engine.close(picture)
      opened = { engine, picture }
      setOpening({ picture, shared: engine.shape.shared, label: 'Developing' })
    }
    open().catch((error: unknown) => {
      forgetOriginal(frameId)
      if (!stop.signal.aborted)
        setOpening({ label: '', problem: sentence(error), lost: isOriginalLost(error) })
    })
    return () => {
      stop.abort()
      if (opened) opened.engine.close(opened.picture)
    }
  }, [frameId, attempt])
  return opening
}
