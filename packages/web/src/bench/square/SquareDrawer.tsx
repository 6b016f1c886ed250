import { useAtom, useAtomValue } from 'jotai'
import { useBench } from '../state/bench'
import { DRAW_LEVELS, DRAW_UPRIGHTS, HORIZON } from './tools'
import type { Wanted } from '@dunkelkammer/core'
import { FlipVertical2, RotateCcwSquare, RotateCwSquare } from 'lucide-react'
import { useState } from 'react'
import { Choice } from '../../controls/Choice'
import { numbersOf, StepNumbers } from '../steps/StepNumbers'
import { StepSection } from '../steps/StepSection'
import { Toggle } from '../../controls/Toggle'
import { changer, useSection } from '../steps/props'
import { withStep } from '../steps/withStep'
import { CropSection } from './CropSection'
import { LensSection } from './LensSection'
import { gridAtom } from './settings'
import { quarterTurned } from './squaringTools'
import { findingAtom, levelByLines, lookingAtom, measureFringes, readyAtom, turnByLines } from './squaring'

const FRINGES = numbersOf('fringes', 'redSize', 'redEdge', 'blueSize', 'blueEdge')
const EDGE_COLOUR = numbersOf('edgeColour', 'amount', 'hue', 'width', 'radius')
const FALL_OFF = numbersOf('fallOff', 'ev', 'shape')
const LEVEL = numbersOf('level', 'angle')
const PERSPECTIVE = numbersOf('perspective', 'tilt', 'swing', 'roll', 'squeeze', 'size', 'soften')

/** The sections of squaring up. */
export function SquareDrawer() {
  const [grid, setGrid] = useAtom(gridAtom)
  return (
    <>
      <Toggle label="Grid over the picture" checked={grid} onChange={setGrid} />
      <LensSection />
      <FringesSection />
      <FallOffSection />
      <LevelSection />
      <PerspectiveSection />
      <CropSection />
    </>
  )
}

function FallOffSection() {
  const props = useSection('fallOff')
  return (
    <StepSection {...props} title="Manual fall-off" steps={['fallOff']} folded>
      <StepNumbers {...props} step="fallOff" numbers={FALL_OFF} />
    </StepSection>
  )
}

const FRINGES_SET = {
  profile: 'Fringes by profile',
  own: 'Fringes manual',
  none: 'Fringe correction off',
}
function FringesSection() {
  const props = useSection('fringes', 'edgeColour', 'lens')
  const { development } = props
  const bench = useBench()
  const finding = useAtomValue(findingAtom)
  const ready = useAtomValue(readyAtom)
  const looking = useAtomValue(lookingAtom)
  const { source } = development.steps.fringes
  const known = !!finding?.has.fringes && development.steps.lens.choice !== 'off'
  const set = changer(props, 'fringes')
  return (
    <>
      <StepSection
        {...props}
        title="Lateral fringes"
        steps={['fringes']}
        folded
        acts={source === 'profile' && known}
      >
        <Choice
          label="Fringes"
          value={source}
          options={[
            { value: 'profile', label: 'Profile' },
            { value: 'own', label: 'Manual' },
            { value: 'none', label: 'Off' },
          ]}
          onChange={(next) => set({ source: next }, FRINGES_SET[next])}
        />
        {source === 'profile' && (
          <p className="mt-2 text-[12px] text-quiet">
            {known
              ? 'Red and blue are aligned with green by the lens profile.'
              : 'No profile in use describes the fringes of this lens.'}
          </p>
        )}
        {source === 'own' && <StepNumbers {...props} step="fringes" numbers={FRINGES} />}
        <button className="button mt-2 w-full" disabled={!ready} onClick={() => void measureFringes(bench)}>
          {looking === 'fringes' ? 'Comparing the colours' : 'Measure in the picture'}
        </button>
      </StepSection>
      <StepSection {...props} title="Coloured edges" steps={['edgeColour']} folded>
        <StepNumbers {...props} step="edgeColour" numbers={EDGE_COLOUR} />
        <p className="hint">Removes these hues along edges only.</p>
      </StepSection>
    </>
  )
}

function LevelSection() {
  const props = useSection('level')
  const { development, tool, toggleTool, adjust } = props
  const bench = useBench()
  const ready = useAtomValue(readyAtom)
  const looking = useAtomValue(lookingAtom)
  const { mirror } = development.steps.level
  const set = changer(props, 'level')
  const turn = (by: 1 | 3) => adjust((d) => quarterTurned(d, by), 'Quarter turn')
  return (
    <StepSection {...props} title="Level" steps={['level']}>
      <StepNumbers {...props} step="level" numbers={LEVEL} />
      <div className="mt-1 grid grid-cols-2 gap-1">
        <button
          className="button"
          aria-pressed={tool === HORIZON}
          disabled={!ready}
          onClick={() => toggleTool(HORIZON)}
        >
          {tool === HORIZON ? 'Draw on the picture' : 'Draw a line'}
        </button>
        <button className="button" disabled={!ready} onClick={() => void levelByLines(bench)}>
          {looking === 'level' ? 'Finding lines' : 'Level automatically'}
        </button>
      </div>
      <div className="mt-1 flex gap-1">
        <button
          className="button flex-1"
          aria-label="Quarter turn anticlockwise"
          title="Quarter turn anticlockwise"
          onClick={() => turn(3)}
        >
          <RotateCcwSquare className="mx-auto h-4 w-4" aria-hidden />
        </button>
        <button
          className="button flex-1"
          aria-label="Quarter turn clockwise"
          title="Quarter turn clockwise"
          onClick={() => turn(1)}
        >
          <RotateCwSquare className="mx-auto h-4 w-4" aria-hidden />
        </button>
        <button
          className="button flex-1"
          aria-label="Mirror"
          title="Mirror left to right"
          aria-pressed={mirror}
          onClick={() => set({ mirror: !mirror }, mirror ? 'Not mirrored' : 'Mirrored')}
        >
          <FlipVertical2 className="mx-auto h-4 w-4" aria-hidden />
        </button>
      </div>
    </StepSection>
  )
}

function PerspectiveSection() {
  const props = useSection('perspective')
  const { development, tool, toggleTool, adjust } = props
  const bench = useBench()
  const ready = useAtomValue(readyAtom)
  const looking = useAtomValue(lookingAtom)
  const [wanted, setWanted] = useState<Wanted>({ uprights: true, levels: false, horizon: true })
  const tick = (part: keyof Wanted, label: string) => (
    <label className="flex items-center gap-2 py-0.5">
      <input
        type="checkbox"
        className="accent-safe"
        checked={wanted[part]}
        onChange={(e) => setWanted({ ...wanted, [part]: e.target.checked })}
      />
      {label}
    </label>
  )
  const { guides } = development.steps.perspective
  const any = wanted.uprights || wanted.levels || wanted.horizon
  return (
    <StepSection {...props} title="Perspective" steps={['perspective']}>
      {tick('uprights', 'Make verticals parallel')}
      {tick('levels', 'Make horizontals parallel')}
      {tick('horizon', 'Level the horizon')}
      <button
        className="button mt-1 w-full"
        disabled={!ready || !any}
        onClick={() => void turnByLines(bench, wanted)}
      >
        {looking === 'perspective' ? 'Finding lines' : 'Correct automatically'}
      </button>
      <div className="mt-1 grid grid-cols-2 gap-1">
        <button
          className="button"
          aria-pressed={tool === DRAW_UPRIGHTS}
          disabled={!ready}
          onClick={() => toggleTool(DRAW_UPRIGHTS)}
        >
          Draw verticals
        </button>
        <button
          className="button"
          aria-pressed={tool === DRAW_LEVELS}
          disabled={!ready}
          onClick={() => toggleTool(DRAW_LEVELS)}
        >
          Draw horizontals
        </button>
      </div>
      {guides.length > 0 && (
        <p className="mt-1 flex justify-between text-[12px] text-quiet">
          {guides.length} {guides.length === 1 ? 'line' : 'lines'} drawn
          <button
            className="underline hover:text-bright"
            onClick={() => adjust((d) => withStep(d, 'perspective', { guides: [] }), 'Lines removed')}
          >
            Remove all
          </button>
        </p>
      )}
      <div className="mt-2">
        <StepNumbers {...props} step="perspective" numbers={PERSPECTIVE} />
      </div>
    </StepSection>
  )
}
