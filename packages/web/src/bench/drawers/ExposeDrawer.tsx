import { BLACK_POINT, GRIP_MOST, GRIPS, startDevelopment, WHITE_POINT, type Grip } from '@dunkelkammer/core'
import { Choice } from '../../controls/Choice'
import { NumberControl } from '../../controls/NumberControl'
import { ShareControl } from '../../controls/ShareControl'
import { StepSection } from '../../controls/StepSection'
import { Toggle } from '../../controls/Toggle'
import { heldGrip } from '../gripLimits'
import { AutomaticSection, type AutomaticProps } from './expose/AutomaticSection'
import { CurveSection, RangeSection } from './expose/CurveSection'
import { changer, type DrawerProps } from './props'
import { section } from './section'

const RENDERINGS = [
  { value: 'own', label: 'Dunkelkammer' },
  { value: 'file', label: 'The file’s own' },
] as const

export const GRIP_NAMES: Record<Grip, string> = {
  deepShadows: 'Deep shadows',
  shadows: 'Shadows',
  midTones: 'Mid-tones',
  highlights: 'Highlights',
  brightHighlights: 'Bright highlights',
}
const START = startDevelopment().steps

/** What the drawer offers where the file holds the camera's own picture. */
export interface CameraMatch {
  /** Missing while the picture is not open yet. */
  match?(): void
  busy: boolean
  problem?: string
  always: boolean
  setAlways(on: boolean): void
}

const Light = section<DrawerProps>(['exposure'], function Light(props) {
  const { endGesture } = props
  const { exposure } = props.development.steps
  const setExposure = changer(props, 'exposure')
  return (
    <StepSection {...props} title="Light" steps={['exposure']}>
      <NumberControl
        label="Exposure"
        unit="EV"
        value={exposure.ev}
        min={-5}
        max={5}
        step={0.05}
        digits={2}
        signed
        start={0}
        onChange={(ev) => setExposure({ ev }, 'Exposure', 'exposure')}
        onEnd={endGesture}
      />
    </StepSection>
  )
})

const BrightEnds = section<DrawerProps>(['recovery', 'highlights'], function BrightEnds(props) {
  const { endGesture } = props
  const { recovery, highlights } = props.development.steps
  return (
    <StepSection {...props} title="Bright ends" steps={['recovery', 'highlights']}>
      <ShareControl
        label="Highlight recovery"
        value={recovery.amount}
        start={0}
        onChange={(amount) => changer(props, 'recovery')({ amount }, 'Highlight recovery', 'recovery')}
        onEnd={endGesture}
      />
      <ShareControl
        label="Highlight rebuild"
        value={highlights.rebuild}
        start={1}
        onChange={(rebuild) => changer(props, 'highlights')({ rebuild }, 'Highlight rebuild', 'highlights')}
        onEnd={endGesture}
      />
      <p className="mt-1 text-[12px] text-quiet">
        Recovery brings bright surfaces below white. Rebuild makes clipped channels up from the others.
      </p>
    </StepSection>
  )
})

const PointsSection = section<DrawerProps>(['points'], function PointsSection(props) {
  const { endGesture } = props
  const { points } = props.development.steps
  const setPoints = changer(props, 'points')
  return (
    <StepSection {...props} title="Black and white point" steps={['points']}>
      <NumberControl
        label="Black point"
        unit="EV"
        value={points.black}
        min={BLACK_POINT.none}
        max={BLACK_POINT.to}
        step={0.1}
        digits={1}
        signed
        start={BLACK_POINT.none}
        onChange={(black) => setPoints({ black }, 'Black point', 'black')}
        onEnd={endGesture}
      />
      <NumberControl
        label="White point"
        unit="EV"
        value={points.white}
        min={WHITE_POINT.from}
        max={WHITE_POINT.to}
        step={0.05}
        digits={2}
        signed
        start={WHITE_POINT.start}
        onChange={(white) => setPoints({ white }, 'White point', 'white')}
        onEnd={endGesture}
      />
      <p className="mt-1 text-[12px] text-quiet">
        Stops around mid grey that become black and white. The middle stays.
      </p>
    </StepSection>
  )
})

const TonesSection = section<DrawerProps>(['tones'], function TonesSection(props) {
  const { endGesture } = props
  const { tones } = props.development.steps
  const setTones = changer(props, 'tones')
  return (
    <StepSection {...props} title="Tones" steps={['tones']}>
      {GRIPS.map((g) => (
        <NumberControl
          key={g}
          label={GRIP_NAMES[g]}
          unit="EV"
          value={tones[g].lift}
          min={-GRIP_MOST}
          max={GRIP_MOST}
          step={0.05}
          digits={2}
          signed
          start={0}
          onChange={(lift) => setTones((now) => ({ [g]: { ...now[g], lift } }), GRIP_NAMES[g], `grip ${g}`)}
          onEnd={endGesture}
        />
      ))}
      <details className="mt-1">
        <summary className="cursor-pointer py-1 text-quiet">Where they act</summary>
        {GRIPS.map((g) => (
          <NumberControl
            key={g}
            label={`${GRIP_NAMES[g]} at`}
            unit="EV"
            value={tones[g].at}
            min={-8}
            max={4}
            step={0.05}
            digits={2}
            signed
            start={START.tones[g].at}
            onChange={(at) =>
              setTones(
                (now) => ({ [g]: { ...now[g], at: heldGrip(now, g, at) } }),
                `${GRIP_NAMES[g]} moved`,
                `grip ${g} at`,
              )
            }
            onEnd={endGesture}
          />
        ))}
      </details>
    </StepSection>
  )
})

const RenderingSection = section<DrawerProps>(['baseRendering'], function RenderingSection(props) {
  const { endGesture, profile } = props
  const { baseRendering } = props.development.steps
  const byFile = baseRendering.rendering === 'file' && profile?.toneCurve !== undefined
  const setRendering = changer(props, 'baseRendering')
  return (
    <StepSection {...props} title="Rendering" steps={['baseRendering']}>
      <NumberControl
        label="Grade"
        value={baseRendering.grade}
        min={0}
        max={5}
        step={0.1}
        digits={1}
        start={2}
        disabled={byFile}
        onChange={(grade) => setRendering({ grade }, 'Grade', 'grade')}
        onEnd={endGesture}
      />
      <NumberControl
        label="Brightness"
        unit="EV"
        value={baseRendering.brightness}
        min={-1.5}
        max={1.5}
        step={0.05}
        digits={2}
        signed
        start={0}
        disabled={byFile}
        onChange={(brightness) => setRendering({ brightness }, 'Brightness', 'brightness')}
        onEnd={endGesture}
      />
      {(['shoulder', 'toe'] as const).map((part) => (
        <NumberControl
          key={part}
          label={part === 'shoulder' ? 'Shoulder' : 'Toe'}
          unit="%"
          value={Math.round(baseRendering[part] * 100)}
          min={-100}
          max={100}
          step={5}
          digits={0}
          signed
          start={0}
          disabled={byFile}
          onChange={(v) => setRendering({ [part]: v / 100 }, part === 'shoulder' ? 'Shoulder' : 'Toe', part)}
          onEnd={endGesture}
        />
      ))}
      <p className="mt-1 mb-2 text-[12px] text-quiet">
        {byFile
          ? 'The file’s tone curve has a contrast of its own.'
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
                rendering === 'file' ? 'Rendering of the file' : 'Rendering of Dunkelkammer',
              )
            }
          />
        </div>
      )}
    </StepSection>
  )
})

const EvenLightingSection = section<DrawerProps>(['evenLighting'], function EvenLightingSection(props) {
  const { endGesture } = props
  const { evenLighting } = props.development.steps
  return (
    <StepSection {...props} title="Even lighting" steps={['evenLighting']} folded>
      <ShareControl
        label="Even lighting"
        value={evenLighting.amount}
        start={0}
        min={-1}
        onChange={(amount) => changer(props, 'evenLighting')({ amount }, 'Even lighting', 'evenLighting')}
        onEnd={endGesture}
      />
      <p className="mt-1 text-[12px] text-quiet">
        Takes away differences of light that are wider than the things in the picture.
      </p>
    </StepSection>
  )
})

function CameraSection({ cameraMatch }: { cameraMatch: CameraMatch }) {
  return (
    <section className="border-t border-line pt-3">
      <h3 className="mb-2 text-text">The camera’s own picture</h3>
      <button
        className="button w-full"
        disabled={!cameraMatch.match || cameraMatch.busy}
        onClick={cameraMatch.match}
      >
        {cameraMatch.busy ? 'Comparing' : 'Match its brightness and contrast'}
      </button>
      <div className="mt-2">
        <Toggle label="Begin every frame so" checked={cameraMatch.always} onChange={cameraMatch.setAlways} />
      </div>
      <p className="mt-1 text-[12px] text-quiet">
        Sets exposure and grade, nothing else. Frames that have been worked on stay as they are.
      </p>
      {cameraMatch.problem && (
        <p role="alert" className="mt-2 text-info">
          {cameraMatch.problem}
        </p>
      )}
    </section>
  )
}

export function ExposeDrawer(
  props: DrawerProps & {
    cameraMatch?: CameraMatch
    automatic: AutomaticProps
    /** Where on the curve's axis the place under the pointer lies. */
    curveMark?: number
  },
) {
  const { cameraMatch, automatic, curveMark, ...all } = props
  const { view, ...rest } = all
  const { development, adjust, tool, take } = rest
  return (
    <>
      <Light {...rest} />
      <AutomaticSection {...{ development, adjust, tool, take }} {...automatic} />
      <BrightEnds {...rest} />
      <PointsSection {...rest} />
      <TonesSection {...rest} />
      <RenderingSection {...rest} />
      <CurveSection {...rest} view={view} mark={curveMark} />
      <RangeSection {...rest} view={view} />
      <EvenLightingSection {...rest} />
      {cameraMatch && <CameraSection cameraMatch={cameraMatch} />}
    </>
  )
}
