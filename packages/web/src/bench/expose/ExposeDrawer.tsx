import { useAtom, useAtomValue } from 'jotai'
import { alwaysAtom, comparingAtom, matchCamera, problemAtom } from './cameraMatch'
import { pictureAtom, previewUrlAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { Choice } from '../../controls/Choice'
import { OrdinarySection } from '../steps/OrdinarySection'
import { numbersOf, optionsOf, StepNumbers } from '../steps/StepNumbers'
import { Section } from '../steps/Section'
import { StepSection } from '../steps/StepSection'
import { Toggle } from '../../controls/Toggle'
import { AutomaticSection } from './AutomaticSection'
import { CurveSection, RangeSection } from './CurveSection'
import { TonesSection } from './TonesSection'
import { changer, profileAtom, useSection } from '../steps/props'

const RENDERINGS = optionsOf('baseRendering', 'rendering')

const EXPOSURE = numbersOf('exposure', 'ev')
const RECOVERY = numbersOf('recovery', 'amount')
const REBUILD = numbersOf('highlights', 'rebuild')
const POINTS = numbersOf('points', 'black', 'white')
const RENDERING = numbersOf('baseRendering', 'grade', 'brightness', 'shoulder', 'toe')

function Light() {
  const props = useSection('exposure')
  return (
    <StepSection {...props} title="Light" steps={['exposure']}>
      <StepNumbers {...props} step="exposure" numbers={EXPOSURE} />
    </StepSection>
  )
}

function BrightEnds() {
  const props = useSection('recovery', 'highlights')
  return (
    <StepSection {...props} title="Highlights" steps={['recovery', 'highlights']}>
      <StepNumbers {...props} step="recovery" numbers={RECOVERY} />
      <StepNumbers {...props} step="highlights" numbers={REBUILD} />
      <p className="hint">
        Recovery brings bright surfaces below white. Reconstruction restores clipped channels from the others.
      </p>
    </StepSection>
  )
}

function PointsSection() {
  const props = useSection('points')
  return (
    <StepSection {...props} title="Black and white point" steps={['points']}>
      <StepNumbers {...props} step="points" numbers={POINTS} />
      <p className="hint">Stops around mid grey that become black and white. The middle stays.</p>
    </StepSection>
  )
}

function RenderingSection() {
  const props = useSection('baseRendering')
  const profile = useAtomValue(profileAtom)
  const { baseRendering } = props.development.steps
  const byFile = baseRendering.rendering === 'file' && profile?.toneCurve !== undefined
  const setRendering = changer(props, 'baseRendering')
  return (
    <StepSection {...props} title="Rendering" steps={['baseRendering']}>
      <StepNumbers {...props} step="baseRendering" numbers={RENDERING} disabled={byFile} />
      <p className="hint">
        {byFile
          ? 'The file’s own tone curve sets the contrast.'
          : 'Grade 0 soft, 2 normal, 5 hard. Brightness moves mid grey and leaves black, white and contrast.'}
      </p>
      {(profile?.look || profile?.toneCurve) && (
        <div className="mt-3">
          <h4 className="mb-2 text-text">
            Rendering{profile.name ? `: the file brings “${profile.name}”` : ''}
          </h4>
          <Choice
            label="Rendering"
            value={baseRendering.rendering}
            options={RENDERINGS}
            onChange={(rendering) =>
              setRendering(
                { rendering },
                rendering === 'file' ? 'Rendering from the file' : 'Rendering of Dunkelkammer',
              )
            }
          />
        </div>
      )}
    </StepSection>
  )
}

function EvenLightingSection() {
  const props = useSection('evenLighting')
  return (
    <OrdinarySection {...props} step="evenLighting" folded>
      <p className="hint">Evens out broad differences in lighting.</p>
    </OrdinarySection>
  )
}

function CameraSection() {
  const bench = useBench()
  const url = useAtomValue(previewUrlAtom)
  const open = useAtomValue(pictureAtom) !== undefined
  const busy = useAtomValue(comparingAtom)
  const problem = useAtomValue(problemAtom)
  const [always, setAlways] = useAtom(alwaysAtom)
  if (!url) return null
  return (
    <Section title="Match the camera’s picture">
      <button className="button w-full" disabled={!open || busy} onClick={() => void matchCamera(bench)}>
        {busy ? 'Comparing' : 'Match brightness and contrast'}
      </button>
      <div className="mt-2">
        <Toggle label="Apply to every unedited frame" checked={always} onChange={setAlways} />
      </div>
      <p className="hint">
        Sets exposure and grade, nothing else. Frames that have been worked on stay as they are.
      </p>
      {problem && (
        <p role="alert" className="mt-2 text-info">
          {problem}
        </p>
      )}
    </Section>
  )
}

/** The sections of exposing. */
export function ExposeDrawer() {
  return (
    <>
      <Light />
      <AutomaticSection />
      <BrightEnds />
      <PointsSection />
      <TonesSection />
      <RenderingSection />
      <CurveSection />
      <RangeSection />
      <EvenLightingSection />
      <CameraSection />
    </>
  )
}
