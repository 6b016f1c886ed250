import { Link, useParams } from 'react-router'
import { useEffect, useRef } from 'react'
import { api, sentence } from '../api/client'
import { useFrame, useShoot } from '../api/queries'
import { ErrorNotice, Progress } from '../shell/Notice'
import { theEngine } from '../engine/engine'
import { fetchOriginal } from '../engine/originals'
import { Bench } from './Bench'
import { Preview } from './picture/Preview'
import { SURROUND_IDS, surroundColour, type Surround } from './picture/surround'
import type { Store } from './state/types'
import { useStored } from '../shell/useStored'
import { takeInHand } from '../sheet/hand'

/** Fetches what the bench needs, then shows it. */
export function BenchPage() {
  const { shootId = '', frameId = '' } = useParams()
  const last = useRef<Store>(undefined)
  useEffect(() => takeInHand(shootId, frameId), [shootId, frameId])
  const frame = useFrame(frameId)
  const shoot = useShoot(shootId)
  // the original and the engine are on their way while the rest is being asked for
  useEffect(() => {
    fetchOriginal(frameId).catch(() => undefined)
    theEngine().catch(() => undefined)
  }, [frameId])
  const error = frame.error ?? shoot.error
  if (error)
    return (
      <main className="mx-auto max-w-xl p-10">
        <h1 className="sr-only">Bench</h1>
        <ErrorNotice
          action={
            <span className="flex gap-2">
              <button className="button" onClick={() => void Promise.all([frame.refetch(), shoot.refetch()])}>
                Try again
              </button>
              <Link className="button" to={`/shoots/${shootId}`}>
                Back to the contact sheet
              </Link>
            </span>
          }
        >
          {sentence(error)}
        </ErrorNotice>
      </main>
    )
  if (!frame.data || !shoot.data || frame.data.frame.id !== frameId) {
    const known = shoot.data?.frames.find((f) => f.id === frameId)
    return <EmptyBench frameId={known?.hasPreview ? frameId : undefined} />
  }
  return <Bench key={frameId} page={frame.data} shoot={shoot.data} last={last} />
}

/** The bench before all is known of the frame: the camera's own picture, where it has one, in the development's place. */
function EmptyBench({ frameId }: { frameId: string | undefined }) {
  const [surround] = useStored<Surround>('surround', 'grey', SURROUND_IDS)
  return (
    <main className="flex h-full flex-col">
      <h1 className="sr-only">Bench</h1>
      <div className="h-[60px] shrink-0 border-b border-line bg-panel" />
      <div className="flex min-h-0 flex-1">
        <div className="w-[320px] shrink-0 border-r border-line bg-panel" />
        <div className="flex min-w-0 flex-1 flex-col">
          <div className="relative min-h-0 flex-1" style={{ backgroundColor: surroundColour(surround) }}>
            {frameId && (
              <Preview
                url={api.previewUrl(frameId)}
                label="The camera’s own picture"
                className="absolute inset-5 h-[calc(100%-40px)] w-[calc(100%-40px)] object-contain"
              />
            )}
          </div>
          <div className="flex h-9 shrink-0 items-center justify-center border-t border-line bg-panel text-[12px]">
            <Progress label="Opening the bench" />
          </div>
        </div>
        <div className="w-[132px] shrink-0 border-l border-line bg-panel" />
      </div>
      <div className="h-[124px] shrink-0 border-t border-line bg-panel" />
    </main>
  )
}
