import { BLACK_POINT, GRIP_MOST, GRIPS, startDevelopment, WHITE_POINT, type Grip } from '@dunkelkammer/core'
import { Choice } from '../../controls/Choice'
import { Numbers, StepNumbers, type Shown } from './StepNumbers'
import { StepSection } from './StepSection'
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

const EXPOSURE: readonly Shown[] = [{ name: 'ev', label: 'Exposure', unit: 'EV', range: [-5, 5, 0.05] }]
const RECOVERY: readonly Shown[] = [
  { name: 'amount', label: 'Highlight recovery', range: [0, 100, 5], percent: true },
]
const REBUILD: readonly Shown[] = [
  { name: 'rebuild', label: 'Highlight rebuild', range: [0, 100, 5], start: 100, percent: true },
]
const { none, to } = BLACK_POINT
const WHITE = WHITE_POINT
const POINTS: readonly Shown[] = [
  { name: 'black', label: 'Black point', unit: 'EV', range: [none, to, 0.1], start: none },
  {
    name: 'white',
    label: 'White point',
    unit: 'EV',
    range: [WHITE.from, WHITE.to, 0.05],
    start: WHITE.start,
  },
]
const LIFTS: readonly Shown[] = GRIPS.map((name) => ({
  ...{ name, label: GRIP_NAMES[name], unit: 'EV', range: [-GRIP_MOST, GRIP_MOST, 0.05] },
}))
const PLACES: readonly Shown[] = GRIPS.map((name) => ({
  ...{ name, label: `${GRIP_NAMES[name]} at`, unit: 'EV', range: [-8, 4, 0.05], start: START.tones[name].at },
}))
const RENDERING: readonly Shown[] = [
  { name: 'grade', label: 'Grade', range: [0, 5, 0.1], start: 2 },
  { name: 'brightness', label: 'Brightness', unit: 'EV', range: [-1.5, 1.5, 0.05] },
  { name: 'shoulder', label: 'Shoulder', range: [-100, 100, 5], percent: true },
  { name: 'toe', label: 'Toe', range: [-100, 100, 5], percent: true },
]
const EVEN: readonly Shown[] = [
  { name: 'amount', label: 'Even lighting', range: [-100, 100, 5], percent: true },
]

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
    <StepSection {...props} title="Even lighting" steps={['evenLighting']} folded>
      <StepNumbers {...props} step="evenLighting" numbers={EVEN} />
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
