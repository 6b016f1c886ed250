import { PICK_AIR } from './tools'
import type { Factor } from '@dunkelkammer/core'
import { Choice } from '../../controls/Choice'
import { ShareControl } from '../../controls/ShareControl'
import { OrdinarySection } from '../steps/OrdinarySection'
import { numbersOf, StepNumbers } from '../steps/StepNumbers'
import { Section } from '../steps/Section'
import { StepSection } from '../steps/StepSection'
import { Toggle } from '../../controls/Toggle'
import { changer, useSection } from '../steps/props'
import { NoiseSection } from './NoiseSection'
import { useAtomValue } from 'jotai'
import { dialogAtom, finishedAtom, pictureAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { SharpSection, UnsharpSection } from './SharpSection'

const HAZE = numbersOf('haze', 'strength', 'depth')
const THRESHOLD = numbersOf('defects', 'threshold')
const SPECKS = numbersOf('defects', 'specks')
const DETAIL = numbersOf('enlarge', 'detail')
const FACTOR_LABELS: readonly { value: Factor; label: string }[] = [
  { value: 1, label: '1' },
  { value: 1.5, label: '1.5' },
  { value: 2, label: '2' },
  { value: 3, label: '3' },
  { value: 4, label: '4' },
]
/** Pixels to the inch of a good print. */
const PRINT = 300

/** The sections of refining. */
export function RefineDrawer() {
  const { get, set } = useBench()
  return (
    <>
      <button className="button mb-1 w-full" onClick={() => get(pictureAtom) && set(dialogAtom, 'variants')}>
        Compare variants
      </button>
      <NoiseSection />
      <EnlargeSection />
      <SharpSection />
      <UnsharpSection />
      <ReliefSection />
      <HazeSection />
      <SensorSection />
    </>
  )
}

function EnlargeSection() {
  const props = useSection('enlarge')
  const { development } = props
  const finished = useAtomValue(finishedAtom)
  const { factor } = development.steps.enlarge
  const set = changer(props, 'enlarge')
  const centimetres = (pixels: number) => ((pixels / PRINT) * 2.54).toFixed(1)
  return (
    <StepSection {...props} title="Enlargement" steps={['enlarge']} folded>
      <Choice
        label="Enlargement"
        value={factor}
        options={FACTOR_LABELS}
        onChange={(next) => set({ factor: next }, next === 1 ? 'Not enlarged' : `Enlarged ${next} times`)}
      />
      <p className="mt-2 text-[12px] text-quiet tabular-nums">
        {finished.width} × {finished.height} pixels, {centimetres(finished.width)} ×{' '}
        {centimetres(finished.height)} cm at {PRINT} to the inch.
      </p>
      {factor > 1 && (
        <>
          <StepNumbers {...props} step="enlarge" numbers={DETAIL} />
          <p className="hint">
            After noise, before sharpness. A file takes about {Math.round(factor * factor)} times as long.
          </p>
        </>
      )}
    </StepSection>
  )
}

function ReliefSection() {
  const props = useSection('relief')
  return <OrdinarySection {...props} step="relief" />
}

function HazeSection() {
  const props = useSection('haze')
  const { development, tool, toggleTool } = props
  const { air } = development.steps.haze
  const set = changer(props, 'haze')
  return (
    <StepSection {...props} title="Haze" steps={['haze']}>
      <StepNumbers {...props} step="haze" numbers={HAZE} />
      <div className="mt-1 grid grid-cols-2 gap-1">
        <button
          className="button"
          aria-pressed={air === 'found'}
          onClick={() => set({ air: 'found' }, 'Haze colour: automatic')}
        >
          Automatic
        </button>
        <button className="button" aria-pressed={tool === PICK_AIR} onClick={() => toggleTool(PICK_AIR)}>
          {tool === PICK_AIR ? 'Click on haze' : air === 'picked' ? 'Pick again' : 'Pick haze colour'}
        </button>
      </div>
    </StepSection>
  )
}

function SensorSection() {
  const props = useSection('defects', 'greenBalance', 'demosaic')
  const { development, endGesture } = props
  const { defects, greenBalance, demosaic } = development.steps
  const set = changer(props, 'defects')
  const setGreens = changer(props, 'greenBalance')
  const setDemosaic = changer(props, 'demosaic')
  return (
    // it begins at work, so there is nothing to switch off or set back as a whole
    <Section title="Sensor">
      <Toggle
        label="Mend hot and dead pixels"
        checked={defects.mend}
        onChange={(mend) => set({ mend }, mend ? 'Defects mended' : 'Defects not mended')}
      />
      <StepNumbers {...props} step="defects" numbers={THRESHOLD} disabled={!defects.mend} />
      <StepNumbers {...props} step="defects" numbers={SPECKS} />
      <p className="hint">
        A lower threshold finds more. What the lens has spread over its neighbours, as real points of light
        are, stays; specks may take the smallest of them too.
      </p>
      <Toggle
        label="Equalise the greens"
        checked={greenBalance.even}
        onChange={(even) => setGreens({ even }, even ? 'Greens equalised' : 'Greens not equalised')}
      />
      <ShareControl
        label="False colour reduction"
        value={demosaic.falseColour}
        start={0.5}
        onChange={(falseColour) => setDemosaic({ falseColour }, 'False colour reduction', 'falseColour')}
        onEnd={endGesture}
      />
      <p className="hint">
        Colour that only fine detail feigns gives way to the colour around it. More also takes from small
        coloured things.
      </p>
    </Section>
  )
}
