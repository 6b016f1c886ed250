import { AlikeSampleSchema, AlikeSchema, MOST_LIKES, type Alike, type AlikeSample } from '@dunkelkammer/core'
import { atom, useAtom, useAtomValue } from 'jotai'
import { useRef } from 'react'
import { ShareControl } from '../../controls/ShareControl'
import { Toggle } from '../../controls/Toggle'
import { Handle } from '../picture/Handle'
import { Ring } from '../picture/Ring'
import { onSensor } from '../picture/touch'
import { TwoTone } from '../picture/TwoTone'
import { toolAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import type { Bench, Place, ToolKind } from '../state/types'
import { Numbers, numbersIn } from '../steps/StepNumbers'
import { changeShape, shapeAtom, type Shape } from './shapes'

const TOLERANCE = numbersIn(AlikeSchema, 'tolerance')
const REACH = numbersIn(AlikeSampleSchema, 'reach').map((n) => ({ ...n, range: [0.02, 1.5, 0.01] as const }))
/** How far a copy lies from what it was made of, long edges. */
const BESIDE = 0.03
/** Half the size of a sample on the screen, pixels. */
const HALF = 9

/** Samples in the hand, by their index; where there are none, controls change all of them. */
const chosenAtom = atom<ReadonlySet<number>>(new Set<number>())

/** What a shape is to resemble: itself, or what limits it. */
const alikeOf = (shape: Shape | undefined): Alike | undefined =>
  shape?.kind === 'alike' ? shape.like : shape?.alike

const withAlike = (shape: Shape, change: (now: Alike) => Alike): Partial<Shape> =>
  shape.kind === 'alike'
    ? { like: change(shape.like) }
    : { alike: change(shape.alike ?? AlikeSchema.parse({})) }

const change = (bench: Bench, id: string, by: (now: Alike) => Alike, label: string, gesture?: string): void =>
  changeShape(bench, id, (shape) => withAlike(shape, by), label, gesture && `${gesture} ${id}`)

/** Adds a sample to the shape in the hand, and takes it into the hand. */
function addSample(bench: Bench, { x, y }: Place, like: boolean): void {
  const shape = bench.get(shapeAtom)
  if (!shape) return
  const { samples } = alikeOf(shape) ?? { samples: [] }
  if (samples.length >= MOST_LIKES) return bench.say(`There can be no more than ${MOST_LIKES} samples.`)
  const reach = samples.at(-1)?.reach
  const sample = AlikeSampleSchema.parse({ x, y, like, ...(reach && { reach }) })
  change(
    bench,
    shape.id,
    (now) => ({ ...now, samples: [...now.samples, sample] }),
    like ? 'Sample to resemble' : 'Sample not to resemble',
  )
  bench.endGesture()
  bench.set(chosenAtom, new Set([samples.length]))
}

/** Whether the next sample is one that is not to be resembled. */
const unlikeAtom = atom(false)

export const PICK_ALIKE: ToolKind = {
  id: 'shape-alike',
  label: 'Picture: click what is to be taken; with Alt, what is not',
  stage: 'shape',
  Overlay: AlikeHandles,
  begin: (bench) => ({
    grasp(at, { alt }) {
      const place = onSensor(bench, at)
      return {
        move() {},
        end: () => addSample(bench, place, alt === bench.get(unlikeAtom)),
        cancel() {},
      }
    },
  }),
}

/** The samples of the shape in the hand, over the picture. */
export function AlikeHandles() {
  const bench = useBench()
  const shape = useAtomValue(shapeAtom)
  const [chosen, choose] = useAtom(chosenAtom)
  const copying = useRef(false)
  const alike = alikeOf(shape)
  if (!shape || !alike) return null
  const { samples } = alike
  const remove = () => {
    const gone = (i: number) => chosen.has(i)
    change(
      bench,
      shape.id,
      (now) => ({ ...now, samples: now.samples.filter((_, i) => !gone(i)) }),
      'Sample deleted',
    )
    bench.endGesture()
    choose(new Set())
  }
  const move = (i: number, to: Place) => {
    const by = { x: to.x - samples[i].x, y: to.y - samples[i].y }
    const moved = (s: AlikeSample) => ({ ...s, x: s.x + by.x, y: s.y + by.y })
    // with Alt a copy goes along, and what it was made of stays
    const left = copying.current && samples.length < MOST_LIKES ? samples[i] : undefined
    copying.current = false
    change(
      bench,
      shape.id,
      (now) => ({
        ...now,
        samples: [
          ...now.samples.map((s, k) => (k === i || (chosen.has(i) && chosen.has(k)) ? moved(s) : s)),
          ...(left ? [left] : []),
        ],
      }),
      'Sample moved',
      'sample',
    )
  }
  return (
    <>
      <TwoTone faint>
        {samples.map((s, i) => (chosen.has(i) ? <Ring key={i} {...s} radius={s.reach} dashed /> : null))}
      </TwoTone>
      {samples.map((sample, i) => (
        <div
          key={i}
          onPointerDownCapture={(e) => {
            copying.current = e.altKey
            if (e.shiftKey)
              choose(new Set(chosen.has(i) ? [...chosen].filter((k) => k !== i) : [...chosen, i]))
            else if (!chosen.has(i)) choose(new Set([i]))
          }}
        >
          <Handle
            at={sample}
            half={HALF}
            label={`${sample.like ? 'Like' : 'Unlike'} ${i + 1}: arrow keys move it, Delete deletes it`}
            className="flex items-center justify-center rounded-full"
            onMove={(to) => move(i, to)}
            onDelete={() => {
              if (!chosen.has(i)) choose(new Set([i]))
              remove()
            }}
          >
            <span
              aria-hidden
              className={`flex h-4 w-4 items-center justify-center rounded-full border text-[12px] leading-none font-bold outline outline-black ${
                chosen.has(i) ? 'border-white bg-white text-black' : 'border-white bg-black/60 text-white'
              }`}
            >
              {sample.like ? '+' : '\u2212'}
            </span>
          </Handle>
        </div>
      ))}
    </>
  )
}

/** What the samples of the shape in the hand are, and how much they take. */
export function AlikeControls({ shape }: { shape: Shape }) {
  const bench = useBench()
  const { endGesture, toggleTool } = bench
  const [all, choose] = useAtom(chosenAtom)
  const [unlike, setUnlike] = useAtom(unlikeAtom)
  const held = useAtomValue(toolAtom) === PICK_ALIKE
  const { samples, tolerance } = alikeOf(shape)!
  const chosen = new Set([...all].filter((i) => i < samples.length))
  const at = chosen.size > 0 ? [...chosen] : samples.map((_, i) => i)
  const first = samples[at[0]] as AlikeSample | undefined
  const put = (part: Partial<AlikeSample>, label: string) =>
    change(
      bench,
      shape.id,
      (now) => ({ ...now, samples: now.samples.map((s, i) => (at.includes(i) ? { ...s, ...part } : s)) }),
      label,
      Object.keys(part).join(),
    )
  const duplicate = () => {
    const copies = at.map((i) => ({ ...samples[i], x: samples[i].x + BESIDE, y: samples[i].y + BESIDE }))
    change(bench, shape.id, (now) => ({ ...now, samples: [...now.samples, ...copies] }), 'Samples duplicated')
    endGesture()
    choose(new Set(copies.map((_, k) => samples.length + k)))
  }
  const likes = samples.filter((s) => s.like).length
  return (
    <>
      <button className="button mb-1 w-full" aria-pressed={held} onClick={() => toggleTool(PICK_ALIKE)}>
        {held ? 'Click on the picture' : 'Add samples'}
      </button>
      {held && <Toggle label="Next is not to be resembled" checked={unlike} onChange={setUnlike} />}
      <p className="hint" role="status">
        {samples.length === 0
          ? 'Click what is to be taken; with Alt, what is not.'
          : `${likes} to resemble, ${samples.length - likes} not. ${chosen.size > 0 ? `${chosen.size} chosen.` : 'Controls change all of them.'}`}
      </p>
      <Numbers
        numbers={TOLERANCE}
        values={{ tolerance }}
        onChange={(_, value, label) =>
          change(bench, shape.id, (now) => ({ ...now, tolerance: value }), label, 'tolerance')
        }
        onEnd={endGesture}
      />
      {first && (
        <>
          <Numbers
            numbers={REACH}
            values={first}
            onChange={(_, reach, label) => put({ reach }, `${label} of samples`)}
            onEnd={endGesture}
          />
          <ShareControl
            label="Strength of samples"
            value={first.strength}
            start={1}
            onChange={(strength) => put({ strength }, 'Strength of samples')}
            onEnd={endGesture}
          />
          <Toggle
            label="To be resembled"
            checked={first.like}
            onChange={(like) => {
              put({ like }, like ? 'Sample to resemble' : 'Sample not to resemble')
              endGesture()
            }}
          />
          <button
            className="button w-full"
            disabled={samples.length + at.length > MOST_LIKES}
            title="With Alt a sample that is dragged leaves another behind"
            onClick={duplicate}
          >
            {chosen.size > 0 ? 'Duplicate the chosen' : 'Duplicate all'}
          </button>
        </>
      )}
    </>
  )
}
