import {
  KELVIN,
  kelvinFromXy,
  TINT,
  xyFromNeutral,
  chosenNeutral,
  type Development,
} from '@dunkelkammer/core'
import { Pipette } from 'lucide-react'
import { Choice } from '../../controls/Choice'
import { NumberControl } from '../../controls/NumberControl'
import { withStep, type DrawerProps } from './props'

/** Equal steps of the slider are equal steps in mireds, as they look. */
const MIREDS = {
  to: (kelvin: number) => (1 / KELVIN.min - 1 / kelvin) / (1 / KELVIN.min - 1 / KELVIN.max),
  from: (share: number) => 1 / (1 / KELVIN.min - share * (1 / KELVIN.min - 1 / KELVIN.max)),
}

const hold = (v: number, { min, max }: { min: number; max: number }) => Math.min(Math.max(v, min), max)

const SOURCES = [
  { value: 'as-shot', label: 'As shot' },
  { value: 'kelvin', label: 'By number' },
  { value: 'sample', label: 'From a grey' },
] as const

const COLOURS = [
  { value: 'matrix', label: 'Matrices' },
  { value: 'file', label: 'And the file’s tables' },
] as const

export function BalanceDrawer(props: DrawerProps & { picking: boolean; problem?: string; onPick(): void }) {
  const { development, camera, profile, adjust, endGesture, picking } = props
  const settings = development.steps.cameraColour
  const light = (neutral: readonly [number, number, number] | undefined) => {
    if (!camera) return { kelvin: 5500, tint: 0 }
    const found = kelvinFromXy(xyFromNeutral(camera, neutral ?? camera.asShotNeutral))
    return { kelvin: Math.round(hold(found.kelvin, KELVIN)), tint: Math.round(hold(found.tint, TINT)) }
  }
  const asShot = light(undefined)
  const now =
    settings.source === 'kelvin'
      ? settings
      : settings.source === 'sample' && camera
        ? light(chosenNeutral(settings, camera))
        : asShot
  const byNumber = (part: { kelvin?: number; tint?: number }, label: string, gesture: string) =>
    adjust(
      (d: Development) =>
        withStep(d, 'cameraColour', { kelvin: now.kelvin, tint: now.tint, ...part, source: 'kelvin' }),
      label,
      gesture,
    )
  const choose = (source: (typeof SOURCES)[number]['value']) => {
    if (source === 'sample') return props.onPick()
    if (source === 'kelvin') return byNumber({}, 'White balance by number', 'source')
    adjust((d) => withStep(d, 'cameraColour', { source }), 'White balance as shot')
  }
  return (
    <>
      <Choice
        label="White balance"
        value={settings.source}
        options={SOURCES}
        onChange={choose}
        className="mb-3"
      />
      <NumberControl
        label="Colour of the light"
        unit="K"
        value={now.kelvin}
        min={KELVIN.min}
        max={KELVIN.max}
        step={10}
        digits={0}
        start={asShot.kelvin}
        changed={settings.source !== 'as-shot' && now.kelvin !== asShot.kelvin}
        scale={MIREDS}
        disabled={!camera}
        onChange={(kelvin) => byNumber({ kelvin }, 'Colour of the light', 'kelvin')}
        onEnd={endGesture}
      />
      <NumberControl
        label="Tint"
        value={now.tint}
        min={TINT.min}
        max={TINT.max}
        step={1}
        digits={0}
        signed
        start={asShot.tint}
        changed={settings.source !== 'as-shot' && now.tint !== asShot.tint}
        disabled={!camera}
        onChange={(tint) => byNumber({ tint }, 'Tint', 'tint')}
        onEnd={endGesture}
      />
      <p className="mt-1 text-[12px] text-quiet">
        As shot: {asShot.kelvin} K, tint {asShot.tint}. A higher number makes the picture warmer; more tint
        turns it from green to magenta.
      </p>
      <button
        className={`button mt-4 w-full ${picking ? 'button-main' : ''}`}
        aria-pressed={picking}
        onClick={props.onPick}
        disabled={!camera}
      >
        <Pipette className="h-4 w-4" aria-hidden />
        {picking ? 'Choose a grey place in the picture' : 'Pick a grey in the picture'}
      </button>
      {camera && profile && profile.maps.length > 0 && (
        <section className="mt-4 border-t border-line pt-3">
          <h3 className="mb-2 text-text">Colours of the camera</h3>
          <Choice
            label="Colours of the camera"
            value={settings.profile}
            options={COLOURS}
            onChange={(by) =>
              adjust(
                (d) => withStep(d, 'cameraColour', { profile: by }),
                by === 'file' ? 'Colours by the file’s tables' : 'Colours by the matrices',
              )
            }
          />
        </section>
      )}
      {props.problem && (
        <p role="alert" className="mt-2 text-info">
          {props.problem}
        </p>
      )}
    </>
  )
}
