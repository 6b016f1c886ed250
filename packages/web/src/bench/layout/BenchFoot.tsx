import { CircleHelp, Columns2, SquareSplitHorizontal, View } from 'lucide-react'
import { Choice } from '../../controls/Choice'
import { Progress } from '../../shell/Notice'
import { ClippingMenu } from '../clipping/Clipping'
import { BeforeMenu } from '../before/BeforeMenu'
import { referenceName } from '../before/reference'
import { zoomLabel, ZOOMS } from '../picture/geometry'
import { type Surround, SURROUNDS } from '../picture/surround'
import type { BenchParts } from '../useBench'

/** The line below the picture: zoom, what is going on, before and after, readings, clipping, surround. */
export function BenchFoot({ bench }: { bench: BenchParts }) {
  const {
    clipping,
    stage,
    zoom,
    opening,
    views,
    setZoom,
    references,
    saving,
    saveProblem,
    picture,
    surround,
    setSurround,
    setDialog,
    before,
    setBefore,
    beside,
    setBeside,
    readings,
    setReadings,
    divider,
    setDivider,
    spotOpen,
    setSpotOpen,
    reference,
    setReference,
  } = bench
  return (
    <div className="flex h-9 shrink-0 items-center justify-between gap-2 border-t border-line bg-panel px-3 text-[12px]">
      <Choice
        label="Zoom"
        value={zoom}
        options={ZOOMS.map((z) => ({ value: z, label: zoomLabel(z) }))}
        onChange={(z) => setZoom(z)}
      />
      <div className="min-w-0 truncate" aria-live="polite">
        {!views.main && !opening.problem && !views.problem && (
          <Progress label={opening.label} share={picture ? views.share : opening.share} />
        )}
        {saving === 'waiting' && saveProblem && (
          <span className="text-safe" title={saveProblem}>
            {saveProblem}
          </span>
        )}
        {opening.shared === false && views.main && saving !== 'waiting' && (
          <span
            className="text-quiet"
            title="This page is not isolated, so memory cannot be shared between workers."
          >
            One worker only
          </span>
        )}
      </div>
      <div className="flex items-center gap-2">
        <div className="flex items-center" role="group" aria-label="Before and after">
          <BeforeMenu value={reference} options={references} onChange={setReference} />
          <button
            className="icon-button"
            aria-pressed={before}
            aria-label="Hold"
            onPointerDown={() => setBefore(true)}
            onPointerUp={() => setBefore(false)}
            onPointerLeave={() => setBefore(false)}
            onKeyDown={(e) => (e.key === ' ' || e.key === 'Enter') && setBefore(true)}
            onKeyUp={() => setBefore(false)}
            onBlur={() => setBefore(false)}
            title={`Hold to see: ${referenceName(reference)} (O)`}
          >
            <View className="h-4 w-4" aria-hidden />
          </button>
          <button
            className="icon-button"
            aria-pressed={divider !== undefined}
            aria-label="Divide"
            onClick={() => setDivider((at) => (at === undefined ? 0.5 : undefined))}
            title={`A line across the picture, to its left: ${referenceName(reference)} (D)`}
          >
            <SquareSplitHorizontal className="h-4 w-4" aria-hidden />
          </button>
          <button
            className="icon-button"
            aria-pressed={beside}
            aria-label="Beside"
            onClick={() => setBeside((b) => !b)}
            title={`Beside it: ${referenceName(reference)} (J)`}
          >
            <Columns2 className="h-4 w-4" aria-hidden />
          </button>
        </div>
        {stage === 'refine' && zoom === 'fit' && spotOpen === 'closed' && (
          <button className="button !px-2 !py-0.5" onClick={() => setSpotOpen('open')}>
            Spot
          </button>
        )}
        <button
          className="button !px-2 !py-0.5"
          aria-pressed={readings === 'on'}
          onClick={() => setReadings(readings === 'on' ? 'off' : 'on')}
          title="Numbers under the pointer, and pinned ones"
        >
          Readings
        </button>
        <ClippingMenu {...clipping} />
        <SurroundChoice value={surround} onChange={setSurround} />
        <button className="icon-button" aria-label="List the keys" onClick={() => setDialog('keys')}>
          <CircleHelp className="h-4 w-4" aria-hidden />
        </button>
      </div>
    </div>
  )
}

function SurroundChoice({ value, onChange }: { value: Surround; onChange(value: Surround): void }) {
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
