import type { Estimate, NewFiles } from '@dunkelkammer/contract'
import { useEffect, useState } from 'react'
import { api } from '../api/client'

/** Frames that are looked at; of more, the others are taken to be as these are on the whole. */
const LOOKED_AT = 10

/** What was found, by frame. */
type Found = ReadonlyMap<string, Estimate>

/** About how large files will be and how long they take, found frame by frame while nobody waits for it. */
export function useEstimates(request: NewFiles, on: boolean) {
  const key = JSON.stringify([request.deliveries, request.presets])
  const ids = request.frames.map((f) => f.id).join(' ')
  const [known, setKnown] = useState<{ key: string; found: Found }>({ key, found: new Map() })
  const found = known.key === key ? known.found : (new Map() as Found)
  useEffect(() => {
    if (!on) return
    const stop = new AbortController()
    const { frames } = request
    const step = Math.max(1, frames.length / LOOKED_AT)
    const wanted = Array.from(
      { length: Math.min(frames.length, LOOKED_AT) },
      (_, i) => frames[Math.floor(i * step)],
    )
    const ask = async () => {
      const all = new Map<string, Estimate>(known.key === key ? known.found : [])
      for (const frame of wanted) {
        if (all.has(frame.id)) continue
        const answer = await api
          .estimateFiles({ frame, deliveries: request.deliveries, presets: request.presets }, stop.signal)
          .catch(() => undefined)
        if (stop.signal.aborted) return
        // a frame that cannot be opened is told by its job
        if (!answer) continue
        all.set(frame.id, answer)
        setKnown({ key, found: new Map(all) })
      }
    }
    void ask()
    return () => stop.abort()
    // asked anew where frames or deliveries are others; what is found meanwhile is no reason
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key, ids, on])
  const there = request.frames.flatMap(({ id }) => found.get(id) ?? [])
  const sum = (of: (e: Estimate) => number) => there.reduce((a, e) => a + of(e), 0)
  const forAll = (of: (e: Estimate) => number) =>
    there.length === 0 ? undefined : (sum(of) * request.frames.length) / there.length
  return {
    found,
    /** Of all files together; nothing while nothing is known. */
    total: forAll(({ bytes }) => bytes.reduce((a, b) => a + b, 0)),
    seconds: forAll((e) => e.seconds),
  }
}
