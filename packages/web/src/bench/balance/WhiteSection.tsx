import { optionsOf } from '../steps/StepNumbers'
import { PICK_GREY } from './tools'
import { LAMP_LIST, meanNeutral, MOST_SAMPLES, type LampId, type Triple } from '@dunkelkammer/core'
import { Pipette, X } from 'lucide-react'
import { Choice } from '../../controls/Choice'
import { Select } from '../../controls/Select'
import { PinButton } from '../steps/PinButton'
import { changer, profileAtom } from '../steps/props'
import { lookingAtom, setFromPicture } from '../expose/automatic'
import { developmentAtom, trialAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { useAtomValue } from 'jotai'

import { withStep } from '../steps/withStep'
import { KelvinControl, TintControl, useWhite } from './white'

/** A fine step, in mireds: just seen. */
const FINE = 4

const SOURCES = optionsOf('cameraColour', 'source')

const COLOURS = optionsOf('cameraColour', 'profile')

export function WhiteSection() {
  const white = useWhite()
  const { props, camera, settings, light, now, asShot, byNumber } = white
  const { tool, take, toggleTool } = props
  const bench = useBench()
  const profile = useAtomValue(profileAtom)
  const busy = useAtomValue(lookingAtom)
  const tryNeutral = (neutral: Triple | undefined) =>
    bench.set(
      trialAtom,
      neutral &&
        withStep(bench.get(developmentAtom), 'cameraColour', {
          source: 'sample',
          neutral: neutral as [number, number, number],
        }),
    )
  const set = changer(props, 'cameraColour')
  const picking = tool === PICK_GREY
  const choose = (source: (typeof SOURCES)[number]['value']) => {
    if (source === 'sample' && settings.samples.length === 0) return take(PICK_GREY)
    if (source === 'kelvin') return byNumber({}, 'White balance by number', 'source')
    set({ source }, `White balance: ${SOURCES.find((s) => s.value === source)!.label}`)
  }
  const warmer = (by: number) =>
    byNumber({ kelvin: white.warmer(by) }, by > 0 ? 'A little warmer' : 'A little cooler', 'fine')
  const keep = (samples: typeof settings.samples, label: string) =>
    set(
      samples.length > 0
        ? {
            samples,
            source: 'sample',
            neutral: meanNeutral(samples.map((s) => s.neutral)) as [number, number, number],
          }
        : { samples, source: 'as-shot' },
      label,
    )
  return (
    <section aria-label="White balance" className="pb-3">
      <h3 className="flex h-9 items-center text-text">White balance</h3>
      <Choice
        label="White balance"
        value={settings.source}
        options={SOURCES}
        onChange={choose}
        className="mb-2 [&>*]:!px-1.5"
      />
      {settings.source === 'lamp' && (
        <Select
          label="Lamp"
          value={settings.lamp}
          options={LAMP_LIST.map((l) => ({ value: l.id, label: l.label }))}
          onChange={(lamp: LampId) =>
            set({ lamp }, `White balance: ${LAMP_LIST.find((l) => l.id === lamp)!.label}`)
          }
        />
      )}
      <KelvinControl
        white={white}
        margin={<PinButton step="cameraColour" field="kelvin" label="Colour temperature" />}
      />
      <TintControl white={white} margin={<PinButton step="cameraColour" field="tint" label="Tint" />} />
      <p className="hint">
        As shot: {asShot.kelvin} K, tint {asShot.tint}. A higher number makes the picture warmer; more tint
        turns it from green to magenta.
      </p>
      <div className="mt-2 grid grid-cols-3 gap-1.5">
        <button className="button !px-1" disabled={!camera} onClick={() => warmer(-FINE)}>
          Cooler
        </button>
        <button className="button !px-1" disabled={!camera} onClick={() => warmer(FINE)}>
          Warmer
        </button>
        <button
          className="button !px-1"
          disabled={!camera || busy}
          onClick={() => void setFromPicture(bench, ['white'], 1)}
        >
          Automatic
        </button>
      </div>
      <button
        className="button mt-2 w-full"
        aria-pressed={picking}
        onClick={() => toggleTool(PICK_GREY)}
        disabled={!camera || settings.samples.length >= MOST_SAMPLES}
      >
        <Pipette className="h-4 w-4" aria-hidden />
        {picking ? 'Choose a grey place in the picture' : 'Pick a grey in the picture'}
      </button>
      {settings.samples.length > 0 && camera && (
        <ul aria-label="Grey samples" className="mt-2">
          {settings.samples.map((s, i) => {
            const own = light(s.neutral)
            return (
              <li key={i} className="flex items-center gap-2 border-b border-line py-1">
                <span className="w-4 text-quiet">{i + 1}</span>
                <span className="flex-1">
                  {own.kelvin} K, tint {own.tint}
                </span>
                <button
                  className="px-1 text-[12px] text-quiet hover:text-bright"
                  title="Hold to preview this sample alone; click to keep only this one"
                  onPointerEnter={() => tryNeutral(s.neutral)}
                  onPointerLeave={() => tryNeutral(undefined)}
                  onFocus={() => tryNeutral(s.neutral)}
                  onBlur={() => tryNeutral(undefined)}
                  onClick={() => {
                    tryNeutral(undefined)
                    keep([s], 'Only one grey sample kept')
                  }}
                >
                  Only this
                </button>
                <button
                  className="icon-button !h-6 !w-6"
                  aria-label={`Remove grey ${i + 1}`}
                  onClick={() =>
                    keep(
                      settings.samples.filter((_, k) => k !== i),
                      'Grey removed',
                    )
                  }
                >
                  <X className="h-3.5 w-3.5" aria-hidden />
                </button>
              </li>
            )
          })}
          {settings.samples.length > 1 && settings.source === 'sample' && (
            <li className="flex gap-2 py-1 text-quiet">
              <span className="w-4" />
              Average {now.kelvin} K, tint {now.tint}
            </li>
          )}
        </ul>
      )}
      {camera && profile && profile.maps.length > 0 && (
        <div className="mt-3">
          <h4 className="mb-2 text-text">Camera colours</h4>
          <Choice
            label="Camera colours"
            value={settings.profile}
            options={COLOURS}
            onChange={(by) =>
              set(
                { profile: by },
                by === 'file' ? 'Camera colours by the file’s tables' : 'Camera colours by the matrix',
              )
            }
          />
        </div>
      )}
    </section>
  )
}
