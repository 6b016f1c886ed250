import { atom, useAtom, useAtomValue } from 'jotai'
import { CircleHelp } from 'lucide-react'
import type { ComponentType } from 'react'
import { Choice } from '../../controls/Choice'
import { Progress } from '../../shell/Notice'
import { zoomOf, type Zoom } from '../picture/geometry'
import { SURROUNDS } from '../picture/surround'
import {
  dialogAtom,
  finishedAtom,
  geometryAtom,
  openingAtom,
  paneAtom,
  standAtom,
  surroundAtom,
  zoomAtom,
} from '../state/atoms'
import { useBench } from '../state/bench'
import { viewsAtom } from '../state/looking'

/** The line below the picture: zoom, what is going on, what the features have there, surround and keys. */
export function BenchFoot({ tools }: { tools: readonly ComponentType[] }) {
  const { set, zoom: setZoom } = useBench()
  const zoom = useAtomValue(zoomAtom)
  return (
    <div className="flex min-h-9 shrink-0 flex-wrap items-center justify-between gap-x-2 border-t border-line bg-panel px-3 text-[12px]">
      <div className="flex h-9 items-center">
        <Choice label="Zoom" value={zoom} options={ZOOMS} onChange={(z) => setZoom(z)} />
        <ZoomReadout />
      </div>
      <div className="min-w-0 flex-1 basis-0 truncate text-center" aria-live="polite">
        <Doing />
        <Waiting />
      </div>
      <div className="ml-auto flex min-h-9 flex-wrap items-center justify-end gap-1.5">
        {tools.map((Tool) => (
          <Tool key={Tool.name} />
        ))}
        <SurroundChoice />
        <button className="icon-button" aria-label="List the keys" onClick={() => set(dialogAtom, 'keys')}>
          <CircleHelp className="h-4 w-4" aria-hidden />
        </button>
      </div>
    </div>
  )
}

const ZOOMS: readonly { value: Zoom; label: string }[] = [
  { value: 'fit', label: 'Fit' },
  { value: 'fill', label: 'Fill' },
  { value: 1, label: '100 %' },
  { value: 2, label: '200 %' },
]

const percentAtom = atom((get) => {
  const geometry = get(geometryAtom)
  const pane = get(paneAtom)
  return geometry && pane && zoomOf(geometry, get(finishedAtom), pane) * 100
})

/** How large the picture is shown, whatever the zoom is called. */
function ZoomReadout() {
  const percent = useAtomValue(percentAtom)
  return (
    <span className="w-16 pr-1 text-right text-quiet tabular-nums" aria-label="Size shown">
      {percent !== undefined && `${percent < 100 ? percent.toFixed(1) : Math.round(percent)} %`}
    </span>
  )
}

const doingAtom = atom((get) => {
  const { main, share, problem } = get(viewsAtom)
  return { seen: main !== undefined, share, problem: problem !== undefined }
})

/** What is done until there is a picture. */
function Doing() {
  const opening = useAtomValue(openingAtom)
  const { seen, share, problem } = useAtomValue(doingAtom)
  if (seen || opening.problem || problem) return null
  return <Progress label={opening.label} share={opening.picture ? share : opening.share} />
}

const savingAtom = atom((get) => get(standAtom).saving)
const savingProblemAtom = atom((get) => get(standAtom).problem)
const seenAtom = atom((get) => get(viewsAtom).main !== undefined)

/** Why work is not saved, or slower than it could be. */
function Waiting() {
  const saving = useAtomValue(savingAtom)
  const problem = useAtomValue(savingProblemAtom)
  const { shared } = useAtomValue(openingAtom)
  const seen = useAtomValue(seenAtom)
  if (saving === 'waiting')
    return (
      problem && (
        <span className="text-safe" title={problem}>
          {problem}
        </span>
      )
    )
  if (shared !== false || !seen) return null
  return (
    <span
      className="text-quiet"
      title="This page is not isolated, so memory cannot be shared between workers."
    >
      Single worker
    </span>
  )
}

function SurroundChoice() {
  const [value, onChange] = useAtom(surroundAtom)
  return (
    <div className="flex gap-1" role="group" aria-label="Brightness of the surround">
      {SURROUNDS.map((s) => (
        <button
          key={s.id}
          aria-label={s.label}
          aria-pressed={s.id === value}
          title={s.label}
          onClick={() => onChange(s.id)}
          className={`h-5 w-5 border ${s.id === value ? 'border-safe' : 'border-edge'}`}
          style={{ backgroundColor: s.colour }}
        />
      ))}
    </div>
  )
}
