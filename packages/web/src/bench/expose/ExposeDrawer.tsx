import { fieldsOf, GRIPS, type Grip } from '@dunkelkammer/core'
import { Choice } from '../../controls/Choice'
import { OrdinarySection } from '../steps/OrdinarySection'
import { Numbers, numbersOf, shown, StepNumbers } from '../steps/StepNumbers'
import { StepSection } from '../steps/StepSection'
import { Toggle } from '../../controls/Toggle'
import { heldGrip } from '../tone/gripLimits'
import { AutomaticSection, type AutomaticProps } from './AutomaticSection'
import { CurveSection, RangeSection } from './CurveSection'
import { changer, type DrawerProps } from '../steps/props'
import { section } from '../steps/section'

const RENDERINGS = [
  { value: 'own', label: 'Dunkelkammer' },
  { value: 'file', label: 'The file’s own' },
] as const

/** What the drawer offers where the file holds the camera's own picture. */
export interface CameraMatch {
  /** Missing while the picture is not open yet. */
  match?(): void
  busy: boolean
  problem?: string
  always: boolean
  setAlways(on: boolean): void
}

const EXPOSURE = numbersOf('exposure', 'ev')
const RECOVERY = numbersOf('recovery', 'amount')
const REBUILD = numbersOf('highlights', 'rebuild')
const POINTS = numbersOf('points', 'black', 'white')
const GRIP_FIELDS = fieldsOf('tones')
const LIFTS = GRIP_FIELDS.filter(({ path }) => path[1] === 'lift').map((f) => shown(f))
export const GRIP_NAMES = Object.fromEntries(LIFTS.map((l) => [l.name, l.label])) as Record<Grip, string>
const PLACES = GRIP_FIELDS.filter(({ path }) => path[1] === 'at').map((f) => shown(f))
const RENDERING = numbersOf('baseRendering', 'grade', 'brightness', 'shoulder', 'toe')

const Light = section<DrawerProps>(['exposure'], function Light(props) {
  return (
    <StepSection {...props} title="Light" steps={['exposure']}>
      <StepNumbers {...props} step="exposure" numbers={EXPOSURE} />
    </StepSection>
  )
})

const BrightEnds = section<DrawerProps>(['recovery', 'highlights'], function BrightEnds(props) {
  return (
    <StepSection {...props} title="Bright ends" steps={['recovery', 'highlights']}>
      <StepNumbers {...props} step="recovery" numbers={RECOVERY} />
      <StepNumbers {...props} step="highlights" numbers={REBUILD} />
      <p className="mt-1 text-[12px] text-quiet">
        Recovery brings bright surfaces below white. Rebuild makes clipped channels up from the others.
      </p>
    </StepSection>
  )
})

const PointsSection = section<DrawerProps>(['points'], function PointsSection(props) {
  return (
    <StepSection {...props} title="Black and white point" steps={['points']}>
      <StepNumbers {...props} step="points" numbers={POINTS} />
      <p className="mt-1 text-[12px] text-quiet">
        Stops around mid grey that become black and white. The middle stays.
      </p>
    </StepSection>
  )
})

const TonesSection = section<DrawerProps>(['tones'], function TonesSection(props) {
  const { tones } = props.development.steps
  const set = changer(props, 'tones')
  const values = (part: 'lift' | 'at') => Object.fromEntries(GRIPS.map((g) => [g, tones[g][part]]))
  return (
    <StepSection {...props} title="Tones" steps={['tones']}>
      <Numbers
        numbers={LIFTS}
        values={values('lift')}
        onChange={(g, lift, label) =>
          set((now) => ({ [g]: { ...now[g as Grip], lift } }), label, `grip ${g}`)
        }
        onEnd={props.endGesture}
      />
      <details className="mt-1">
        <summary className="cursor-pointer py-1 text-quiet">Where they act</summary>
        <Numbers
          numbers={PLACES}
          values={values('at')}
          onChange={(g, at, label) =>
            set(
              (now) => ({ [g]: { ...now[g as Grip], at: heldGrip(now, g as Grip, at) } }),
              label,
              `grip ${g} at`,
            )
          }
          onEnd={props.endGesture}
        />
      </details>
    </StepSection>
  )
})

const RenderingSection = section<DrawerProps>(['baseRendering'], function RenderingSection(props) {
  const { profile } = props
  const { baseRendering } = props.development.steps
  const byFile = baseRendering.rendering === 'file' && profile?.toneCurve !== undefined
  const setRendering = changer(props, 'baseRendering')
  return (
    <StepSection {...props} title="Rendering" steps={['baseRendering']}>
      <StepNumbers {...props} step="baseRendering" numbers={RENDERING} disabled={byFile} />
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
  return (
    <OrdinarySection {...props} step="evenLighting" folded>
      <p className="mt-1 text-[12px] text-quiet">
        Takes away differences of light that are wider than the things in the picture.
      </p>
    </OrdinarySection>
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
