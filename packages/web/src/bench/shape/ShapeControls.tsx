import {
  AlikeSchema,
  ColourRangeSchema,
  EdgeLimitSchema,
  fieldsIn,
  isDrawn,
  ShapeSchema,
  ToneRangeSchema,
  type ColourRange,
  type ShapeKind,
  type ToneRange,
} from '@dunkelkammer/core'
import { useAtom, useAtomValue, type PrimitiveAtom } from 'jotai'
import type { ReactNode } from 'react'
import { Choice } from '../../controls/Choice'
import { NumberControl } from '../../controls/NumberControl'
import { ShareControl } from '../../controls/ShareControl'
import { Toggle } from '../../controls/Toggle'
import { sizeAtom, toolAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import type { ToolKind } from '../state/types'
import { Numbers, numbersIn, shown, type Shown } from '../steps/StepNumbers'
import { AlikeControls, PICK_ALIKE } from './alike'
import { penAtom, penSeenAtom, RADIUS, type Brush } from './brush'
import { CorrectControls } from './correct'
import { PICK_COLOUR, PICK_TONE } from './draw'
import { aloneAtom } from './maskView'
import { ColourRangeControls, ToneRangeControls } from './RangeControls'
import { FoundHere } from './find'
import { RegionControls } from './regions'
import { changeShape, type Shape, type ShapeOf, type Way } from './shapes'

export const WAYS = [
  { value: 'add', label: 'Add' },
  { value: 'take', label: 'Subtract' },
  { value: 'common', label: 'Intersect' },
] as const satisfies readonly { value: Way; label: string }[]

/** Those numbers of a kind of shape that are set by controls as they stand. */
const numbersOf = (kind: ShapeKind, ...names: string[]): readonly Shown[] => {
  const fields = fieldsIn(ShapeSchema.options.find((o) => o.shape.kind.value === kind)!)
  return names.map((name) => shown(fields.find(({ path }) => path[0] === name)!))
}
const NUMBERS: Partial<Record<ShapeKind, readonly Shown[]>> = {
  ramp: numbersOf('ramp', 'middle'),
  oval: numbersOf('oval', 'turn', 'softness'),
}

const EDGE = numbersIn(EdgeLimitSchema, 'contrast')

/** A length in long edges, shown in pixels of the picture; where none are negative, small ones have most of the slider. */
export function LengthControl(props: {
  label: string
  value: number
  least: number
  most: number
  start: number
  onChange(value: number): void
}) {
  const { width, height } = useAtomValue(sizeAtom)
  const { endGesture } = useBench()
  const long = Math.max(width, height)
  const most = Math.floor(props.most * long)
  return (
    <NumberControl
      label={props.label}
      unit="px"
      value={Math.round(props.value * long)}
      min={Math.ceil(props.least * long)}
      max={most}
      signed={props.least < 0}
      step={1}
      digits={0}
      start={Math.round(props.start * long)}
      scale={props.least < 0 ? undefined : { to: (v) => Math.sqrt(v / most), from: (s) => s * s * most }}
      onChange={(v) => props.onChange(v / long)}
      onEnd={endGesture}
    />
  )
}

/** Size, softness, flow and limit of strokes. */
function BrushNumbers({
  brush,
  onChange,
}: {
  brush: Brush
  onChange(part: Partial<Brush>, label: string): void
}) {
  const { endGesture } = useBench()
  return (
    <>
      <LengthControl
        label="Size"
        value={brush.radius}
        {...RADIUS}
        onChange={(radius) => onChange({ radius }, 'Size')}
      />
      <ShareControl
        label="Softness"
        value={brush.softness}
        start={0.5}
        onChange={(softness) => onChange({ softness }, 'Softness')}
        onEnd={endGesture}
      />
      <ShareControl
        label="Flow"
        value={brush.flow}
        start={1}
        min={0.01}
        step={1}
        onChange={(flow) => onChange({ flow }, 'Flow')}
        onEnd={endGesture}
      />
      <ShareControl
        label="Limit"
        value={brush.limit}
        start={1}
        min={0.01}
        step={1}
        onChange={(limit) => onChange({ limit }, 'Limit')}
        onEnd={endGesture}
      />
      <Toggle
        label="Follow edges of the picture"
        checked={brush.follow}
        onChange={(follow) => {
          onChange({ follow }, 'Edges')
          endGesture()
        }}
      />
    </>
  )
}

/** How the next stroke is painted. */
export function BrushControls({ brush }: { brush: PrimitiveAtom<Brush> }) {
  const [now, set] = useAtom(brush)
  const [pen, setPen] = useAtom(penAtom)
  const seen = useAtomValue(penSeenAtom)
  return (
    <>
      <BrushNumbers brush={now} onChange={(part) => set((b) => ({ ...b, ...part }))} />
      {seen && <Toggle label="Thinner where a pen presses less" checked={pen} onChange={setPen} />}
      <p className="hint">
        Alt subtracts, Shift joins to the last stroke. The flow is what one stroke adds, the limit what all of
        them can reach.
      </p>
    </>
  )
}

/** The settings of the shape in the hand. */
export function ShapeControls({ shape }: { shape: Shape }) {
  const bench = useBench()
  const { endGesture } = bench
  const [alone, seeAlone] = useAtom(aloneAtom)
  const { id } = shape
  const put = (part: Partial<Shape>, label: string) =>
    changeShape(bench, id, part, label, `${Object.keys(part).join()} ${id}`)
  const once = (part: Partial<Shape>, label: string) => {
    put(part, label)
    endGesture()
  }
  const numbers = NUMBERS[shape.kind]
  return (
    <>
      <Choice
        label="What the shape does"
        value={shape.way}
        options={WAYS}
        className="mt-2"
        onChange={(way) => once({ way }, 'Shape combined')}
      />
      <ShareControl
        label="Strength"
        value={shape.strength}
        start={1}
        onChange={(strength) => put({ strength }, 'Strength of a shape')}
        onEnd={endGesture}
      />
      {numbers && (
        <Numbers
          numbers={numbers}
          values={shape}
          onChange={(name, value, label) => put({ [name]: value }, `${label} of a shape`)}
          onEnd={endGesture}
        />
      )}
      {shape.kind === 'outline' && (
        <LengthControl
          label="Softness"
          value={shape.softness}
          least={0}
          most={0.2}
          start={0.005}
          onChange={(softness) => put({ softness }, 'Softness of a shape')}
        />
      )}
      {shape.kind === 'stroke' && (
        <BrushNumbers brush={shape} onChange={(part, label) => put(part, `${label} of a stroke`)} />
      )}
      {(shape.kind === 'found' || shape.kind === 'distance') && <FoundHere key={shape.id} shape={shape} />}
      {shape.kind === 'found' && <CorrectControls shape={shape} />}
      {shape.kind === 'distance' && (
        <Distances shape={shape} onChange={(part, label) => put(part, `${label} of a shape`)} />
      )}
      {shape.kind === 'regions' && <RegionControls shape={shape} />}
      {shape.kind === 'alike' && <AlikeControls shape={shape} />}
      {shape.kind === 'tones' && (
        <TonePicker range={shape.range} onChange={(range, label) => put({ range }, label)} />
      )}
      {shape.kind === 'colours' && (
        <ColourPicker range={shape.range} onChange={(range, label) => put({ range }, label)} />
      )}
      <Toggle
        label="Invert the shape"
        checked={shape.invert}
        onChange={(invert) => once({ invert }, invert ? 'Shape inverted' : 'Shape no longer inverted')}
      />
      <Toggle
        label="Show this shape alone"
        checked={alone === id}
        onChange={(on) => seeAlone(on ? id : undefined)}
      />
      <Limiters shape={shape} put={put} once={once} />
    </>
  )
}

/** How near and how far. */
function Distances(props: {
  shape: ShapeOf<'distance'>
  onChange(part: Partial<ShapeOf<'distance'>>, label: string): void
}) {
  const { from, to, softness } = props.shape
  const { endGesture } = useBench()
  return (
    <>
      <ShareControl
        label="Nearest"
        value={from}
        start={0}
        onChange={(v) => props.onChange({ from: v, to: Math.max(v, to) }, 'Nearest')}
        onEnd={endGesture}
      />
      <ShareControl
        label="Farthest"
        value={to}
        start={0.4}
        onChange={(v) => props.onChange({ to: v, from: Math.min(v, from) }, 'Farthest')}
        onEnd={endGesture}
      />
      <ShareControl
        label="Softness"
        value={softness}
        start={0.2}
        onChange={(v) => props.onChange({ softness: v }, 'Softness')}
        onEnd={endGesture}
      />
    </>
  )
}

function PickButton({ tool, label }: { tool: ToolKind; label: string }) {
  const { toggleTool } = useBench()
  const held = useAtomValue(toolAtom) === tool
  return (
    <button className="button mb-1 w-full" aria-pressed={held} onClick={() => toggleTool(tool)}>
      {held ? 'Click on the picture' : label}
    </button>
  )
}

interface Putting {
  put(part: Partial<Shape>, label: string): void
  once(part: Partial<Shape>, label: string): void
}

/** What narrows a shape down: an edge around it, some tones, some colours. */
function Limiters({ shape, put, once }: Putting & { shape: Shape }) {
  const { endGesture, take } = useBench()
  const { kind, tones, colours, edge, alike } = shape
  return (
    <>
      {isDrawn(shape) && (
        <Limiter
          label="Limit to inside an edge"
          limited={edge !== undefined}
          onChange={(on) => once({ edge: on ? EdgeLimitSchema.parse({}) : undefined }, 'Limit at an edge')}
        >
          <Numbers
            numbers={EDGE}
            values={edge ?? {}}
            onChange={(name, value, label) => put({ edge: { ...edge!, [name]: value } }, label)}
            onEnd={endGesture}
          />
        </Limiter>
      )}
      {kind !== 'alike' && (
        <Limiter
          label="Limit to what is like samples"
          limited={alike !== undefined}
          onChange={(on) => {
            once({ alike: on ? AlikeSchema.parse({}) : undefined }, 'Limit to samples')
            if (on) take(PICK_ALIKE)
          }}
        >
          <AlikeControls shape={shape} />
        </Limiter>
      )}
      {kind !== 'tones' && (
        <Limiter
          label="Limit to tones"
          limited={tones !== undefined}
          onChange={(on) => once({ tones: on ? ToneRangeSchema.parse({}) : undefined }, 'Limit to tones')}
        >
          {tones && <TonePicker range={tones} onChange={(next, label) => put({ tones: next }, label)} />}
        </Limiter>
      )}
      {kind !== 'colours' && (
        <Limiter
          label="Limit to colours"
          limited={colours !== undefined}
          onChange={(on) =>
            once({ colours: on ? ColourRangeSchema.parse({}) : undefined }, 'Limit to colours')
          }
        >
          {colours && (
            <ColourPicker range={colours} onChange={(next, label) => put({ colours: next }, label)} />
          )}
        </Limiter>
      )}
    </>
  )
}

/** A switch, and below it what it is set by while it is on. */
function Limiter(props: {
  label: string
  limited: boolean
  onChange(on: boolean): void
  children: ReactNode
}) {
  return (
    <>
      <Toggle label={props.label} checked={props.limited} onChange={props.onChange} />
      {props.limited && props.children}
    </>
  )
}

/** A range of tones, also by samples. */
function TonePicker(props: { range: ToneRange; onChange(range: ToneRange, label: string): void }) {
  const { endGesture } = useBench()
  return (
    <>
      <ToneRangeControls {...props} onEnd={endGesture} />
      <PickButton tool={PICK_TONE} label="Sample tones" />
    </>
  )
}

/** A range of colours, also by samples. */
function ColourPicker(props: { range: ColourRange; onChange(range: ColourRange, label: string): void }) {
  const { endGesture } = useBench()
  return (
    <>
      <ColourRangeControls {...props} onEnd={endGesture} />
      <PickButton tool={PICK_COLOUR} label="Sample colours" />
    </>
  )
}
