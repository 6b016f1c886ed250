import { SPOT, type Patch } from '@dunkelkammer/core'
import { useAtom, useAtomValue, useSetAtom } from 'jotai'
import { useEffect, useRef } from 'react'
import { Choice } from '../../controls/Choice'
import { NumberControl } from '../../controls/NumberControl'
import { DeleteButton, OnButton } from '../../controls/RowButtons'
import { ShareControl } from '../../controls/ShareControl'
import { Toggle } from '../../controls/Toggle'
import { sayProblem } from '../picture/touch'
import { sizeAtom, toolAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import type { Bench } from '../state/types'
import { useSection } from '../steps/props'
import { StepSection } from '../steps/StepSection'
import {
  besides,
  canShift,
  changePatch,
  chosenAtom,
  chosenIdAtom,
  mannerAtom,
  markedAtom,
  nextSource,
  patchesAtom,
  removePatch,
  shiftPatch,
  suggestionsFor,
} from './patches'
import { MEND_AVOID, MEND_OUTLINE, MEND_STROKE, MEND_WIRE } from './draw'
import { DustSection } from './DustSection'
import { PairOfPictures } from './PairOfPictures'
import { duplicate, fillingAtom, fillPatch, refillSoon } from './fill'
import { showPlace } from './showPlace'
import { sourceProblem } from './sourceProblem'
import { MEND_SPOT } from './tools'

const KINDS = [
  { value: 'heal', label: 'Heal' },
  { value: 'clone', label: 'Clone' },
  { value: 'fill', label: 'Fill' },
] as const
const TOOLS = [
  { kind: MEND_SPOT, label: 'Mend spots' },
  { kind: MEND_STROKE, label: 'Paint strokes' },
  { kind: MEND_OUTLINE, label: 'Draw outlines' },
  { kind: MEND_WIRE, label: 'Remove wires' },
] as const
const SHIFTS = [
  { label: 'Earlier', by: -1 },
  { label: 'Later', by: 1 },
] as const
const WORD = { heal: 'Heal', clone: 'Clone', fill: 'Fill' } as const
const SHAPE = { spot: 'a spot', stroke: 'a stroke', outline: 'an outline' } as const

/** Repairs of single places. */
export const MendDrawer = () => (
  <>
    <PatchSection />
    <DustSection />
  </>
)

function PatchSection() {
  const props = useSection('patches')
  const { tool, toggleTool } = props
  const [marked, mark] = useAtom(markedAtom)
  return (
    <StepSection {...props} title="Patches" steps={['patches']}>
      <div className="grid grid-cols-2 gap-1">
        {TOOLS.map(({ kind, label }) => (
          <button
            key={kind.id}
            className="button !px-1"
            aria-pressed={tool === kind}
            onClick={() => toggleTool(kind)}
          >
            {label}
          </button>
        ))}
      </div>
      <PatchControls />
      <Toggle label="Mark patches on the picture" checked={marked} onChange={mark} />
      <PatchList />
      <p className="hint">
        Healing takes texture from the source, and light and colour from around the patch. Cloning takes the
        source as it is. Filling puts a place together anew from what is around it.
      </p>
    </StepSection>
  )
}

/** The numbers of the chosen patch, or of the next one where none is chosen. */
function PatchControls() {
  const bench = useBench()
  const { endGesture } = bench
  const patch = useAtomValue(chosenAtom)
  const all = useAtomValue(patchesAtom)
  const [manner, setManner] = useAtom(mannerAtom)
  const { width, height } = useAtomValue(sizeAtom)
  const long = Math.max(width, height)
  const { kind, radius, softness, opacity } = patch ?? manner
  const put = (part: Partial<typeof manner>, label: string, gesture?: string) => {
    setManner((m) => ({ ...m, ...part }))
    if (patch) changePatch(bench, patch.id, part, label, gesture && `${gesture} ${patch.id}`)
  }
  return (
    <>
      <Choice
        label="Kind of patch"
        value={kind}
        options={KINDS}
        onChange={(value) => {
          put({ kind: value }, 'Kind of patch', 'kind')
          if (patch) becomes(bench, { ...patch, kind: value })
          endGesture()
        }}
        className="mt-2"
      />
      {patch?.shape !== 'outline' && (
        <NumberControl
          label="Radius"
          unit="px"
          value={Math.round(radius * long)}
          min={Math.max(Math.ceil(SPOT.least * long), 1)}
          max={Math.floor(SPOT.most * long)}
          step={1}
          digits={0}
          start={Math.round(SPOT.start * long)}
          scale={{
            to: (v) => Math.sqrt(v / (SPOT.most * long)),
            from: (s) => s * s * SPOT.most * long,
          }}
          onChange={(v) => {
            put({ radius: v / long }, 'Radius of a patch', 'radius')
            if (patch) refillSoon(bench, patch.id, 'Radius of a patch', `radius ${patch.id}`)
          }}
          onEnd={endGesture}
        />
      )}
      <ShareControl
        label="Softness"
        value={softness}
        start={0.3}
        onChange={(v) => put({ softness: v }, 'Softness of a patch', 'softness')}
        onEnd={endGesture}
      />
      <ShareControl
        label="Opacity"
        value={opacity}
        start={1}
        onChange={(v) => put({ opacity: v }, 'Opacity of a patch', 'opacity')}
        onEnd={endGesture}
      />
      {patch?.kind === 'fill' && <FillControls patch={patch} />}
      {patch && patch.kind !== 'fill' && (
        <>
          <NumberControl
            label="Turn the source"
            unit="°"
            value={patch.turn}
            min={-180}
            max={180}
            step={1}
            digits={0}
            signed
            start={0}
            onChange={(turn) =>
              changePatch(bench, patch.id, { turn }, 'Source of a patch', `turn ${patch.id}`)
            }
            onEnd={endGesture}
          />
          <Toggle
            label="Mirror the source"
            checked={patch.mirror}
            onChange={(mirror) => changePatch(bench, patch.id, { mirror }, 'Source of a patch')}
          />
          <SourceProblem patch={patch} />
          <button className="button w-full" onClick={() => nextSource(bench)}>
            Find another source
          </button>
        </>
      )}
      {patch && (
        <div className="mt-1 grid grid-cols-3 gap-1">
          <button className="button !px-1" onClick={() => duplicate(bench, patch.id)}>
            Duplicate
          </button>
          {SHIFTS.map(({ label, by }) => (
            <button
              key={label}
              className="button !px-1"
              title={`Carry it out ${label.toLowerCase()}, where patches overlap`}
              disabled={!canShift(all, patch.id, by)}
              onClick={() => shiftPatch(bench, patch.id, by)}
            >
              {label}
            </button>
          ))}
        </div>
      )}
    </>
  )
}

/** A patch has become one of another kind: it may want a source, or to be filled. */
function becomes(bench: Bench, patch: Patch): void {
  const gesture = `kind ${patch.id}`
  if (patch.kind === 'fill') {
    if (!patch.filled) void fillPatch(bench, patch.id, 'Kind of patch', gesture)
  } else if (patch.source[0] === 0 && patch.source[1] === 0)
    suggestionsFor(bench, patch).then(([best]) => {
      changePatch(bench, patch.id, { source: [...(best ?? besides(patch))] }, 'Kind of patch', gesture)
      bench.endGesture()
    }, sayProblem(bench))
}

/** How far a fill is, and what may be done to it. */
function FillControls({ patch: { id, filled, avoid } }: { patch: Patch }) {
  const bench = useBench()
  const share = useAtomValue(fillingAtom).get(id)
  const tool = useAtomValue(toolAtom)
  return (
    <>
      {share !== undefined ? (
        <div className="my-1 flex h-7 items-center gap-2" role="status">
          <span>Filling</span>
          <div
            role="progressbar"
            aria-label="Filling"
            aria-valuenow={Math.round(share * 100)}
            className="h-1 min-w-0 flex-1 bg-edge"
          >
            <div className="h-full bg-safe" style={{ width: `${share * 100}%` }} />
          </div>
        </div>
      ) : (
        <button
          className="button w-full"
          onClick={() => void fillPatch(bench, id, filled ? 'Patch filled anew' : 'Patch filled')}
        >
          {filled ? 'Fill anew' : 'Fill'}
        </button>
      )}
      <div className="mt-1 grid grid-cols-2 gap-1">
        <button
          className="button !px-1"
          aria-pressed={tool === MEND_AVOID}
          title="Draw around what the fill is not to take from"
          onClick={() => bench.toggleTool(MEND_AVOID)}
        >
          Exclude a place
        </button>
        <button
          className="button !px-1"
          disabled={!avoid}
          onClick={() => {
            const label = 'Place a fill takes nothing from, removed'
            changePatch(bench, id, { avoid: undefined }, label, `avoid ${id}`)
            void fillPatch(bench, id, label, `avoid ${id}`)
          }}
        >
          Include it again
        </button>
      </div>
    </>
  )
}

/** Says that the source of a patch no longer fits. */
function SourceProblem({ patch }: { patch: Patch }) {
  const problem = sourceProblem(patch, useAtomValue(patchesAtom), useAtomValue(sizeAtom))
  return problem ? (
    <p role="status" className="hint">
      {problem}
    </p>
  ) : null
}

/** What there is to say of a patch beside its kind. */
function Note({ patch }: { patch: Patch }) {
  const { id, kind, filled } = patch
  const share = useAtomValue(fillingAtom).get(id)
  const all = useAtomValue(patchesAtom)
  const problem = sourceProblem(patch, all, useAtomValue(sizeAtom))
  if (problem)
    return (
      <span className="truncate text-bright" title={problem}>
        source does not fit
      </span>
    )
  if (share !== undefined) return <span className="text-quiet tabular-nums">{Math.round(100 * share)} %</span>
  return kind === 'fill' && !filled ? <span className="text-quiet">not filled yet</span> : null
}

/** Every patch in its order. */
function PatchList() {
  const bench = useBench()
  const patches = useAtomValue(patchesAtom)
  const chosen = useAtomValue(chosenIdAtom)
  const choose = useSetAtom(chosenIdAtom)
  const list = useRef<HTMLUListElement>(null)
  useEffect(() => {
    list.current?.querySelector('[aria-current=true]')?.scrollIntoView({ block: 'nearest' })
  }, [chosen])
  if (patches.length === 0) return <p className="hint">No patches yet.</p>
  return (
    <ul ref={list} aria-label="Patches" className="mt-1 max-h-56 overflow-y-auto border border-edge">
      {patches.map((patch, i) => (
        <li
          key={patch.id}
          aria-current={patch.id === chosen}
          className={`flex items-center gap-1 pr-1 ${patch.id === chosen ? 'bg-raised text-bright' : 'text-text'}`}
        >
          <button
            className={`flex min-w-0 flex-1 items-center gap-2 px-2 py-0.5 text-left ${patch.on ? '' : 'text-quiet line-through'}`}
            onClick={() => {
              choose(patch.id === chosen ? undefined : patch.id)
              if (patch.id !== chosen) showPlace(bench, patch)
            }}
          >
            <span className="w-6 shrink-0 text-right tabular-nums text-quiet">{i + 1}</span>
            <PairOfPictures patch={patch} name={`Patch ${i + 1}`} />
            <span>{patch.dust ? 'Dust' : `${WORD[patch.kind]} ${SHAPE[patch.shape]}`}</span>
            <Note patch={patch} />
          </button>
          <OnButton
            label={`Patch ${i + 1}`}
            on={patch.on}
            onChange={(on) => changePatch(bench, patch.id, { on }, on ? 'Patch on' : 'Patch off')}
          />
          <DeleteButton label={`patch ${i + 1}`} onDelete={() => removePatch(bench, patch.id)} />
        </li>
      ))}
    </ul>
  )
}
