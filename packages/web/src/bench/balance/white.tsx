import { chosenNeutral, KELVIN, TINT, whiteOf, type Development, type Triple } from '@dunkelkammer/core'
import { useAtomValue } from 'jotai'
import type { ReactNode } from 'react'
import { NumberControl } from '../../controls/NumberControl'
import { cameraAtom, useSection } from '../steps/props'
import { withStep } from '../steps/withStep'

/** Equal steps of the slider are equal steps in mireds, as they look. */
const MIREDS = {
  to: (kelvin: number) => (1 / KELVIN.min - 1 / kelvin) / (1 / KELVIN.min - 1 / KELVIN.max),
  from: (share: number) => 1 / (1 / KELVIN.min - share * (1 / KELVIN.min - 1 / KELVIN.max)),
}

const hold = (v: number, { min, max }: { min: number; max: number }) => Math.min(Math.max(v, min), max)

/** The white balance in numbers, wherever it comes from. */
export function useWhite() {
  const props = useSection('cameraColour')
  const camera = useAtomValue(cameraAtom)
  const settings = props.development.steps.cameraColour
  const light = (neutral: Triple | undefined) => {
    if (!camera) return { kelvin: 5500, tint: 0 }
    const { kelvin, tint } = whiteOf(camera, neutral ?? camera.asShotNeutral)
    return { kelvin: Math.round(kelvin), tint: Math.round(tint) }
  }
  const now = settings.source === 'kelvin' || !camera ? settings : light(chosenNeutral(settings, camera))
  return {
    ...{ props, camera, settings, light, now, asShot: light(undefined) },
    byNumber: (part: { kelvin?: number; tint?: number }, label: string, gesture: string) =>
      props.adjust(
        (d: Development) =>
          withStep(d, 'cameraColour', { kelvin: now.kelvin, tint: now.tint, ...part, source: 'kelvin' }),
        label,
        gesture,
      ),
    /** By how many mireds the light is taken for warmer. */
    warmer: (by: number) => Math.round(hold(1e6 / (1e6 / now.kelvin - by), KELVIN)),
  }
}
export type White = ReturnType<typeof useWhite>

interface Props {
  white: White
  label?: string
  margin?: ReactNode
}

/** Moving it takes the white balance by number, from where it stands. */
export function KelvinControl({ white, label = 'Colour temperature', margin }: Props) {
  const { camera, settings, now, asShot, byNumber, props } = white
  return (
    <NumberControl
      label={label}
      unit="K"
      margin={margin}
      value={now.kelvin}
      min={KELVIN.min}
      max={KELVIN.max}
      step={10}
      digits={0}
      start={asShot.kelvin}
      changed={settings.source !== 'as-shot' && now.kelvin !== asShot.kelvin}
      scale={MIREDS}
      disabled={!camera}
      onChange={(kelvin) => byNumber({ kelvin }, 'Colour temperature', 'kelvin')}
      onEnd={props.endGesture}
    />
  )
}

/** The same for its tint. */
export function TintControl({ white, label = 'Tint', margin }: Props) {
  const { camera, settings, now, asShot, byNumber, props } = white
  return (
    <NumberControl
      label={label}
      margin={margin}
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
      onEnd={props.endGesture}
    />
  )
}
