import { Choice } from '../../controls/Choice'
import { NumberControl } from '../../controls/NumberControl'
import { ShareControl } from '../../controls/ShareControl'
import { Toggle } from '../../controls/Toggle'
import { withStep, type DrawerProps } from './props'

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

export function ExposeDrawer(props: DrawerProps & { cameraMatch?: CameraMatch }) {
  const { development, profile, adjust, endGesture, cameraMatch } = props
  const { exposure, baseRendering, highlights } = development.steps
  const byFile = baseRendering.rendering === 'file' && profile?.toneCurve !== undefined
  return (
    <>
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
        onChange={(ev) => adjust((d) => withStep(d, 'exposure', { ev }), 'Exposure', 'exposure')}
        onEnd={endGesture}
      />
      <NumberControl
        label="Grade"
        value={baseRendering.grade}
        min={0}
        max={5}
        step={0.1}
        digits={1}
        start={2}
        disabled={byFile}
        onChange={(grade) => adjust((d) => withStep(d, 'baseRendering', { grade }), 'Grade', 'grade')}
        onEnd={endGesture}
      />
      <p className="mt-1 mb-2 text-[12px] text-quiet">
        {byFile
          ? 'The file’s tone curve has a contrast of its own.'
          : '0 soft, 2 normal, 5 hard. Mid grey stays where it is.'}
      </p>
      <ShareControl
        label="Highlight rebuild"
        value={highlights.rebuild}
        start={1}
        onChange={(rebuild) =>
          adjust((d) => withStep(d, 'highlights', { rebuild }), 'Highlight rebuild', 'highlights')
        }
        onEnd={endGesture}
      />
      <p className="mt-1 text-[12px] text-quiet">
        Brings clipped channels back from the others. 0 cuts them all at the same level.
      </p>
      {(profile?.look || profile?.toneCurve) && (
        <section className="mt-4 border-t border-line pt-3">
          <h3 className="mb-2 text-text">
            Rendering{profile.name ? `: the file brings “${profile.name}”` : ''}
          </h3>
          <Choice
            label="Rendering"
            value={baseRendering.rendering}
            options={RENDERINGS}
            onChange={(rendering) =>
              adjust(
                (d) => withStep(d, 'baseRendering', { rendering }),
                rendering === 'file' ? 'Rendering of the file' : 'Rendering of Dunkelkammer',
              )
            }
          />
        </section>
      )}
      {cameraMatch && (
        <section className="mt-4 border-t border-line pt-3">
          <h3 className="mb-2 text-text">The camera’s own picture</h3>
          <button
            className="button w-full"
            disabled={!cameraMatch.match || cameraMatch.busy}
            onClick={cameraMatch.match}
          >
            {cameraMatch.busy ? 'Comparing' : 'Match its brightness and contrast'}
          </button>
          <div className="mt-2">
            <Toggle
              label="Begin every frame so"
              checked={cameraMatch.always}
              onChange={cameraMatch.setAlways}
            />
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
      )}
    </>
  )
}
