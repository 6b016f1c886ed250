import type { NoiseFinding } from '@dunkelkammer/engine/browser'
import { Choice } from '../../controls/Choice'
import { Select } from '../../controls/Select'
import { numbersOf, optionsOf, StepNumbers } from '../steps/StepNumbers'
import { StepSection } from '../steps/StepSection'
import { Toggle } from '../../controls/Toggle'
import { changer, useSection } from '../steps/props'
import { noiseAtom } from './findings'
import { useAtomValue } from 'jotai'

const MODES = optionsOf('noise', 'mode')
const NUMBERS = numbersOf('noise', 'luminance', 'colour', 'blotches', 'keepDetail', 'tone')
const SOURCE_WORDS = {
  file: 'The file says how much noise there is.',
  camera: 'From the stored profile of this camera at this ISO.',
  picture: 'Measured in even places of this picture.',
} as const
const SOURCES = optionsOf('noise', 'source')

export function NoiseSection() {
  const props = useSection('noise')
  const { development, inArea } = props
  const noise = useAtomValue(noiseAtom)
  const settings = development.steps.noise
  const set = changer(props, 'noise')
  return (
    <StepSection {...props} title="Noise" steps={['noise']}>
      <Choice
        label="Noise reduction"
        value={settings.mode}
        options={MODES}
        onChange={(mode) => set({ mode }, mode === 'none' ? 'Noise reduction off' : 'Noise reduction')}
      />
      {inArea && <p className="hint">In place of the noise reduction of the whole picture.</p>}
      {noise && !inArea && (
        <>
          <NoiseCurve finding={noise} />
          <p className="hint">
            {noise.source ? SOURCE_WORDS[noise.source] : 'Nothing is known: that of an ordinary sensor.'}
          </p>
          {noise.known.length > 1 && (
            <Select
              label="Noise model"
              value={settings.source}
              options={SOURCES.filter(({ value }) => value === 'best' || noise.known.includes(value))}
              onChange={(source) => set({ source }, 'Noise model')}
            />
          )}
        </>
      )}
      {settings.mode === 'hand' && (
        <div className="mt-1">
          <StepNumbers {...props} step="noise" numbers={NUMBERS} />
        </div>
      )}
      {settings.mode !== 'none' && (
        <Toggle
          label="High quality"
          checked={settings.fine}
          onChange={(fine) => set({ fine }, fine ? 'High-quality noise reduction' : 'Quick noise reduction')}
        />
      )}
    </StepSection>
  )
}

const W = 286
const H = 64
/** Stops below white that the curve shows. */
const STOPS = 10

/** Noise over light: both in stops, so that the curve's slope tells light's own noise from that of reading. */
function NoiseCurve({ finding }: { finding: NoiseFinding }) {
  const { a, b } = finding.noise[Math.min(1, finding.noise.length - 1)]
  const points = Array.from({ length: 41 }, (_, i) => {
    const stops = -STOPS + (i / 40) * STOPS
    const signal = 2 ** stops
    return [i / 40, Math.sqrt(a * signal + b) / signal] as const
  })
  // from a thousandth of the light to all of it
  const y = (share: number) => H - (Math.log10(Math.min(Math.max(share, 0.001), 1) / 0.001) / 3) * H
  const path = points.map(([x, v], i) => `${i ? 'L' : 'M'}${(x * W).toFixed(1)} ${y(v).toFixed(1)}`).join('')
  const at = (stops: number) => {
    const signal = 2 ** stops
    return `${((Math.sqrt(a * signal + b) / signal) * 100).toPrecision(2)} %`
  }
  return (
    <figure className="mt-2 mb-1">
      <svg
        viewBox={`0 0 ${W} ${H}`}
        className="h-16 w-full border border-line bg-night"
        role="img"
        aria-label={`Noise against light: ${at(0)} of white, ${at(-6)} six stops below`}
      >
        {[1, 2].map((k) => (
          <path key={k} d={`M0 ${(k * H) / 3}H${W}`} stroke="var(--color-line)" />
        ))}
        <path d={path} fill="none" stroke="var(--color-text)" strokeWidth="1.25" />
      </svg>
      <figcaption className="flex justify-between text-[11px] text-quiet tabular-nums">
        <span>−{STOPS} EV</span>
        <span>
          noise {at(-6)} at −6 EV, {at(0)} at white
        </span>
        <span>white</span>
      </figcaption>
    </figure>
  )
}
