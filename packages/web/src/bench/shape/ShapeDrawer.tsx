import {
  fieldsIn,
  MaskRefinementSchema,
  MaskSchema,
  type Area,
  type MaskRefinement,
} from '@dunkelkammer/core'
import { useAtom, useAtomValue } from 'jotai'
import { Choice } from '../../controls/Choice'
import { NumberControl } from '../../controls/NumberControl'
import { ShareControl } from '../../controls/ShareControl'
import { Toggle } from '../../controls/Toggle'
import { copiedAreaAtom } from '../../desk/copied'
import { toolAtom, trialAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import type { Bench, ToolKind } from '../state/types'
import { Section } from '../steps/Section'
import { AreaList } from './AreaList'
import {
  addArea,
  areaAtom,
  areasAtom,
  changeArea,
  changeMask,
  copyArea,
  copyForFrames,
  maskAreaAtom,
  nameOf,
  pasteArea,
  seeWithout,
  unlinkMask,
  type Copied,
} from './areas'
import { AreaSteps } from './AreaSteps'
import { brushAtom, toneBrushAtom } from './brush'
import { DRAW_OUTLINE, DRAW_OVAL, DRAW_RAMP, PICK_COLOUR } from './draw'
import { lookAtom, LOOKS, shownAtom } from './maskView'
import { BURN, DODGE, PAINT_STROKE } from './paint'
import { FindButtons } from './find'
import { LIGHTNESS, WIDTHS } from './ranges'
import { BrushControls, LengthControl, ShapeControls, WAYS } from './ShapeControls'
import { PICK_REGIONS, RegionControls } from './regions'
import { readyOpenAtom } from './ready'
import { ShapeList } from './ShapeList'
import { addShape, newShape, shapeAtom, wayAtom } from './shapes'

const TOOLS = [
  { kind: PAINT_STROKE, label: 'Paint' },
  { kind: DRAW_RAMP, label: 'Ramp' },
  { kind: DRAW_OVAL, label: 'Oval' },
  { kind: DRAW_OUTLINE, label: 'Outline' },
] as const
const TONE_TOOLS = [
  { kind: DODGE, label: 'Dodge' },
  { kind: BURN, label: 'Burn' },
] as const
const COPIES: readonly { what: Copied; label: string; title: string }[] = [
  { what: 'all', label: 'Duplicate', title: 'Mask and settings' },
  { what: 'mask', label: 'Mask only', title: 'A new area with the same mask and no settings' },
  { what: 'linked', label: 'Linked', title: 'A new area that shares the mask: a change of one changes both' },
  { what: 'inverse', label: 'Inverse', title: 'A new area with the inverted mask and no settings' },
]

/** Parts of the picture with settings of their own. */
export function ShapeDrawer() {
  const area = useAtomValue(areaAtom)
  const masked = useAtomValue(maskAreaAtom)
  return (
    <>
      <Section title="Areas">
        <AreaList />
        <NewAreas />
        {area && <AreaControls key={area.id} area={area} />}
        {area && <MaskLooks />}
      </Section>
      <Section title="Shapes">
        <ToolButtons />
        {area && masked !== area && <Linked area={area} />}
        {masked && <Shapes area={masked} />}
      </Section>
      {masked && (
        <Section title="Mask" folded>
          <MaskControls area={masked} />
        </Section>
      )}
      {area && <AreaSteps area={area} />}
    </>
  )
}

function NewAreas() {
  const bench = useBench()
  const copied = useAtomValue(copiedAreaAtom)
  const add = (start: 'nothing' | 'everything') => {
    addArea(bench, { mask: MaskSchema.parse({ start }) }, 'Area added')
    bench.endGesture()
  }
  return (
    <div className="mt-1 grid grid-cols-3 gap-1">
      <button className="button !px-1" title="A new area whose mask is empty" onClick={() => add('nothing')}>
        New, empty
      </button>
      <button
        className="button !px-1"
        title="A new area that covers the whole picture"
        onClick={() => add('everything')}
      >
        New, full
      </button>
      <button
        className="button !px-1"
        title="Areas that are fitted to this picture, seen before they are taken (Alt+Y)"
        onClick={() => bench.set(readyOpenAtom, true)}
      >
        Ready areas
      </button>
      {copied && (
        <button
          className="button col-span-3 !px-1"
          title={`Paste “${copied.area.name}”, as it was copied`}
          onClick={() => pasteArea(bench)}
        >
          Paste
        </button>
      )}
    </div>
  )
}

/** Name, strength and copies of the area in the hand. */
function AreaControls({ area }: { area: Area }) {
  const bench = useBench()
  const { id } = area
  const areas = useAtomValue(areasAtom)
  const trial = useAtomValue(trialAtom)
  const name = nameOf(areas, area)
  const see = (without: boolean) => seeWithout(bench, without ? id : undefined)
  return (
    <>
      <label className="mt-2 flex items-center justify-between gap-3">
        <span>Name</span>
        <input
          className="field !w-48 py-1"
          maxLength={80}
          value={area.name}
          placeholder={name}
          onChange={(e) => changeArea(bench, id, { name: e.target.value }, 'Area renamed', 'name')}
          onBlur={bench.endGesture}
        />
      </label>
      <NumberControl
        label="Strength"
        unit="%"
        value={Math.round(area.strength * 100)}
        min={0}
        max={200}
        step={5}
        digits={0}
        start={100}
        onChange={(v) => changeArea(bench, id, { strength: v / 100 }, `Strength of ${name}`, 'strength')}
        onEnd={bench.endGesture}
      />
      <div className="mt-1 grid grid-cols-4 gap-1">
        {COPIES.map(({ what, label, title }) => (
          <button
            key={what}
            className="button !px-0 text-[12px]"
            title={title}
            onClick={() => copyArea(bench, id, what)}
          >
            {label}
          </button>
        ))}
      </div>
      <div className="mt-1 grid grid-cols-2 gap-1">
        <button
          className="button !px-1"
          title="Copies the area, to be pasted on another frame, or on the sheet into many"
          onClick={() => copyForFrames(bench, area)}
        >
          Copy for frames
        </button>
        <button
          className="button !px-1"
          aria-pressed={trial !== undefined}
          title="Hold to see the picture without this area (,)"
          onPointerDown={() => see(true)}
          onPointerUp={() => see(false)}
          onPointerLeave={() => see(false)}
          onKeyDown={(e) => (e.key === ' ' || e.key === 'Enter') && see(true)}
          onKeyUp={() => see(false)}
          onBlur={() => see(false)}
        >
          Hold for before
        </button>
      </div>
    </>
  )
}

/** Whether the mask is seen, and how. */
function MaskLooks() {
  const [shown, show] = useAtom(shownAtom)
  const [look, setLook] = useAtom(lookAtom)
  return (
    <>
      <Toggle label="Show the mask" checked={shown} onChange={show} />
      <Choice
        label="How the mask is shown"
        value={look}
        options={LOOKS}
        onChange={setLook}
        className="[&>*]:!px-1"
      />
    </>
  )
}

function ToolButton({ kind, label }: { kind: ToolKind; label: string }) {
  const { toggleTool } = useBench()
  const held = useAtomValue(toolAtom) === kind
  return (
    <button className="button !px-1" aria-pressed={held} onClick={() => toggleTool(kind)}>
      {label}
    </button>
  )
}

/** Adds a range of the picture's own tones or colours. */
function addRange(bench: Bench, kind: 'tones' | 'colours'): void {
  const way = bench.get(wayAtom)
  if (!addShape(bench, newShape({ kind, way }))) return
  bench.endGesture()
  if (kind === 'colours') bench.take(PICK_COLOUR)
}

/** Lights, middle tones and darks in three widths, ready to take. */
function addLightness(bench: Bench, index: number, width: number): void {
  const { at, widths } = LIGHTNESS[index]
  const range = at(widths[width])
  if (addShape(bench, newShape({ kind: 'tones', way: bench.get(wayAtom), range }))) bench.endGesture()
}

function ToolButtons() {
  const bench = useBench()
  const tool = useAtomValue(toolAtom)
  const [way, setWay] = useAtom(wayAtom)
  const shape = useAtomValue(shapeAtom)
  const painting = tool === PAINT_STROKE
  const toning = tool === DODGE || tool === BURN
  return (
    <>
      <div className="grid grid-cols-4 gap-1">
        {TOOLS.map(({ kind, label }) => (
          <ToolButton key={kind.id} kind={kind} label={label} />
        ))}
      </div>
      <div className="mt-1 grid grid-cols-2 gap-1">
        <button className="button !px-1" onClick={() => addRange(bench, 'tones')}>
          Tone range
        </button>
        <button className="button !px-1" onClick={() => addRange(bench, 'colours')}>
          Colour range
        </button>
        {TONE_TOOLS.map(({ kind, label }) => (
          <ToolButton key={kind.id} kind={kind} label={label} />
        ))}
      </div>
      <FindButtons />
      <label className="flex items-center justify-between gap-3 pt-1.5">
        <span>Lightness</span>
        <select
          className="field !w-40 py-1"
          value=""
          aria-label="Add a range of lightness"
          onChange={(e) => {
            const [index, width] = e.target.value.split(' ').map(Number)
            addLightness(bench, index, width)
          }}
        >
          <option value="">Add</option>
          {LIGHTNESS.map(({ name }, i) =>
            WIDTHS.map((width, k) => (
              <option key={`${i} ${k}`} value={`${i} ${k}`}>
                {name}, {width}
              </option>
            )),
          )}
        </select>
      </label>
      {(!shape || painting) && !toning && (
        <Choice
          label="What the next shape does"
          value={way}
          options={WAYS}
          onChange={setWay}
          className="mt-2"
        />
      )}
      {tool === PICK_REGIONS && shape?.kind !== 'regions' && <RegionControls />}
      {painting && <BrushControls brush={brushAtom} />}
      {toning && <BrushControls brush={toneBrushAtom} />}
    </>
  )
}

/** Says that the mask is that of another area. */
function Linked({ area }: { area: Area }) {
  const bench = useBench()
  const areas = useAtomValue(areasAtom)
  const owner = useAtomValue(maskAreaAtom)
  return (
    <div className="mt-2 flex items-center justify-between gap-2">
      <span className="min-w-0 truncate text-quiet">Mask of {owner && nameOf(areas, owner)}</span>
      <button className="button !px-2" onClick={() => unlinkMask(bench, area.id)}>
        Unlink
      </button>
    </div>
  )
}

/** The shapes of the area in the hand, and the controls of the chosen one. */
function Shapes({ area }: { area: Area }) {
  const shape = useAtomValue(shapeAtom)
  const tool = useAtomValue(toolAtom)
  const painting = tool === PAINT_STROKE || tool === DODGE || tool === BURN
  return (
    <>
      <div className="mt-2">
        <ShapeList area={area} />
      </div>
      {shape && !painting && <ShapeControls shape={shape} />}
    </>
  )
}

const LENGTHS = fieldsIn(MaskRefinementSchema).filter((f) => f.max! < 1)

/** What is done to the mask after its shapes. */
function Refinement({ id, refined }: { id: string; refined: MaskRefinement }) {
  const bench = useBench()
  const put = (part: Partial<MaskRefinement>, label: string) =>
    changeMask(
      bench,
      id,
      (m) => ({ refined: { ...m.refined, ...part } }),
      `${label} of a mask`,
      Object.keys(part).join(),
    )
  const length = (name: string) => {
    const { label, min, max } = LENGTHS.find(({ path }) => path[0] === name)!
    return (
      <LengthControl
        key={name}
        label={label}
        value={refined[name as keyof MaskRefinement]}
        least={min!}
        most={max!}
        start={0}
        onChange={(value) => put({ [name]: value }, label)}
      />
    )
  }
  return (
    <>
      {length('softness')}
      {length('grow')}
      <ShareControl
        label="Contrast"
        value={refined.contrast}
        start={0}
        onChange={(contrast) => put({ contrast }, 'Contrast')}
        onEnd={bench.endGesture}
      />
      {length('edges')}
      {length('matte')}
      <ShareControl
        label="Own light at the edge"
        value={refined.ownLight}
        start={0}
        onChange={(ownLight) => put({ ownLight }, 'Own light')}
        onEnd={bench.endGesture}
      />
      {length('gaps')}
      {length('specks')}
    </>
  )
}

/** The mask of the area in the hand as a whole. */
function MaskControls({ area: { id, mask } }: { area: Area }) {
  const bench = useBench()
  const put = (part: Partial<Area['mask']>, label: string) => changeMask(bench, id, () => part, label)
  return (
    <>
      <Toggle
        label="Start with the whole picture"
        checked={mask.start === 'everything'}
        onChange={(all) =>
          put({ start: all ? 'everything' : 'nothing' }, all ? 'Mask starts full' : 'Mask starts empty')
        }
      />
      <Toggle
        label="Invert the mask"
        checked={mask.invert}
        onChange={(invert) => put({ invert }, invert ? 'Mask inverted' : 'Mask no longer inverted')}
      />
      <Refinement id={id} refined={mask.refined} />
    </>
  )
}
