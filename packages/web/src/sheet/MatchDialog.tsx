import type { Frame, LightMatch } from '@dunkelkammer/contract'
import { useEffect, useState } from 'react'
import { api, sentence } from '../api/client'
import { Modal } from '../shell/Modal'
import { Thumb } from '../shell/Thumb'

/** What a frame is matched by, or why it cannot be. */
type Found = LightMatch | { problem: string }

const BY: Readonly<Record<LightMatch['by'], string>> = {
  scene: 'same scene',
  exposure: 'camera’s exposure',
  brightness: 'brightness',
}
const BY_TITLE: Readonly<Record<LightMatch['by'], string>> = {
  scene: 'Both frames show the same scene: they are compared place by place.',
  exposure:
    'The frames show different things. The light is taken to be the same, and the exposures that the camera noted are evened out.',
  brightness:
    'The frames show different things, and no exposure was noted. Their medium brightness is made the same.',
}

/** Sets exposure and white of frames so that they agree with another one: shows by how much before anything changes. */
export function MatchDialog(props: {
  to: Frame
  /** The others. */
  frames: readonly Frame[]
  onClose(): void
  onApply(light: Record<string, LightMatch['to']>): void
}) {
  const { to } = props
  // those that were chosen when it was opened
  const [frames] = useState(props.frames)
  const found = useMatches(to.id, frames)
  /** What the user chose otherwise than it would be. */
  const [turned, setTurned] = useState<ReadonlySet<string>>(new Set())
  const isTaken = (id: string) => turned.has(id) !== isLikely(found.get(id))
  const light = Object.fromEntries(
    frames.flatMap(({ id }) => {
      const match = found.get(id)
      return match && 'to' in match && isTaken(id) ? [[id, match.to]] : []
    }),
  )
  const count = Object.keys(light).length
  const toggle = (id: string) =>
    setTurned((was) => {
      const next = new Set(was)
      if (!next.delete(id)) next.add(id)
      return next
    })
  return (
    <Modal open onClose={props.onClose} title={`Match to ${to.fileName}`} width={640}>
      <p className="mb-3 text-quiet">
        Sets exposure and white balance of these frames so that they agree with {to.fileName}. The rest of
        their settings stays.
      </p>
      <div className="h-[340px] overflow-y-auto border border-line">
        <table className="w-full tabular-nums">
          <thead className="sticky top-0 bg-panel text-left text-[12px] text-quiet">
            <tr>
              <th className="px-3 py-1.5 font-normal" colSpan={2}>
                Frame
              </th>
              <th className="px-2 py-1.5 text-right font-normal">Exposure</th>
              <th className="px-2 py-1.5 text-right font-normal">Temperature</th>
              <th className="px-2 py-1.5 text-right font-normal">Tint</th>
              <th className="px-3 py-1.5 font-normal">By</th>
            </tr>
          </thead>
          <tbody>
            {frames.map((frame) => (
              <Row
                key={frame.id}
                frame={frame}
                found={found.get(frame.id)}
                taken={isTaken(frame.id)}
                onToggle={() => toggle(frame.id)}
              />
            ))}
          </tbody>
        </table>
      </div>
      <div className="mt-4 flex items-center justify-end gap-2">
        <span role="status" className="mr-auto text-quiet">
          {found.size < frames.length && `${found.size} of ${frames.length} compared`}
        </span>
        <button type="button" className="button" autoFocus onClick={props.onClose}>
          Cancel
        </button>
        <button
          type="button"
          className="button button-main"
          disabled={count === 0 || found.size < frames.length}
          onClick={() => props.onApply(light)}
        >
          Match {count === 1 ? '1 frame' : `${count} frames`}
        </button>
      </div>
    </Modal>
  )
}

/** Most stops of a change that the picture itself does not bear out. */
const LIKELY = 3

/** Whether a match is taken unless the user says otherwise: frames that far apart hardly stand in the same light. */
const isLikely = (found: Found | undefined): boolean =>
  found !== undefined &&
  'to' in found &&
  (found.by === 'scene' || Math.abs(found.to.ev - found.from.ev) <= LIKELY)

function Row(props: { frame: Frame; found?: Found; taken: boolean; onToggle(): void }) {
  const { frame, found, taken } = props
  const match = found && 'to' in found ? found : undefined
  return (
    <tr className={`border-t border-line ${taken ? '' : 'text-quiet'}`}>
      <td className="w-16 py-1 pl-3">
        <Thumb frame={frame} className="h-9 w-12 object-contain" />
      </td>
      <td className="max-w-44 px-2">
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-safe"
            checked={taken && match !== undefined}
            disabled={!match}
            onChange={props.onToggle}
          />
          <span className="truncate" title={frame.fileName}>
            {frame.fileName}
          </span>
        </label>
      </td>
      {match ? (
        <>
          <td className="px-2 text-right">{signed(match.to.ev - match.from.ev, 2)} EV</td>
          <td className="px-2 text-right" title={`${match.from.kelvin} K to ${match.to.kelvin} K`}>
            {signed(match.to.kelvin - match.from.kelvin, 0)} K
          </td>
          <td className="px-2 text-right">{signed(match.to.tint - match.from.tint, 1)}</td>
          <td className="px-3 text-quiet" title={BY_TITLE[match.by]}>
            {BY[match.by]}
          </td>
        </>
      ) : (
        <td className="px-3 text-right text-quiet" colSpan={4}>
          {found && 'problem' in found ? found.problem : '…'}
        </td>
      )}
    </tr>
  )
}

const signed = (v: number, digits: number) => {
  const text = Math.abs(v).toFixed(digits)
  return Number(text) === 0 ? text : `${v < 0 ? '−' : '+'}${text}`
}

/** Matches of frames, as they are found one after the other. */
function useMatches(to: string, frames: readonly Frame[]): ReadonlyMap<string, Found> {
  const [found, setFound] = useState<ReadonlyMap<string, Found>>(new Map())
  useEffect(() => {
    const stop = new AbortController()
    const ask = async () => {
      for (const { id } of frames) {
        const outcome = await api
          .matchLight(id, to, stop.signal)
          .catch((error: unknown): Found => ({ problem: sentence(error) }))
        if (stop.signal.aborted) return
        setFound((was) => new Map(was).set(id, outcome))
      }
    }
    void ask()
    return () => stop.abort()
  }, [to, frames])
  return found
}
