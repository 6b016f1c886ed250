import type { SharpenSettings, Softness } from '@dunkelkammer/core'
import { Choice } from '../../controls/Choice'
import { numbersOf, optionsOf, StepNumbers, type Shown } from '../steps/StepNumbers'
import { StepSection } from '../steps/StepSection'
import { Toggle } from '../../controls/Toggle'
import { changer, useSection } from '../steps/props'
import { useAtom, useAtomValue } from 'jotai'
import { maskAtom } from '../state/looking'
import { useBench } from '../state/bench'
import { measureSoftness, measuringAtom, readyAtom, softnessAtom } from './findings'

const KINDS = optionsOf('sharpen', 'softness')
const AMOUNT = numbersOf('sharpen', 'amount')
const [LENS_RADIUS, ANGLE] = numbersOf('sharpen', 'radius', 'angle')
const RADIUS: Readonly<Record<Softness, readonly Shown[]>> = {
  lens: [LENS_RADIUS],
  focus: [{ ...LENS_RADIUS, label: 'Radius' }],
  motion: [{ ...LENS_RADIUS, label: 'Half length' }, ANGLE],
}
const HELD = numbersOf('sharpen', 'corners', 'edges', 'threshold', 'halo')
/** Settings to begin from, by what the picture is of. */
const SUBJECTS: readonly { name: string; settings: Partial<SharpenSettings> }[] = [
  { name: 'Bricks and timber', settings: { amount: 1, edges: 0, threshold: 1, halo: 0.05 } },
  { name: 'Leaves and grass', settings: { amount: 0.8, edges: 0.3, threshold: 1.5, halo: 0.03 } },
  { name: 'Water and mist', settings: { amount: 0.5, edges: 0.7, threshold: 2.5, halo: 0.02 } },
  { name: 'Faces', settings: { amount: 0.5, edges: 0.85, threshold: 2, halo: 0.02 } },
  { name: 'Lamps at night', settings: { amount: 0.7, edges: 0.6, threshold: 3, halo: 0.02 } },
]
const UNSHARP = numbersOf('unsharp', 'strength', 'radius', 'threshold', 'edges')
const AFTER = numbersOf('afterNoise', 'amount')

export function SharpSection() {
  const props = useSection('sharpen', 'afterNoise')
  const { development } = props
  const bench = useBench()
  const ready = useAtomValue(readyAtom)
  const busy = useAtomValue(measuringAtom)
  const said = useAtomValue(softnessAtom)
  const [mask, setMask] = useAtom(maskAtom)
  const { sharpen } = development.steps
  const set = changer(props, 'sharpen')
  return (
    <StepSection {...props} title="Sharpness" steps={['sharpen', 'afterNoise']}>
      <Choice
        label="Kind of blur"
        value={sharpen.softness}
        options={KINDS}
        className="[&>*]:!px-1"
        onChange={(kind) => set({ softness: kind }, 'Kind of blur')}
      />
      <button className="button mt-1 w-full" disabled={!ready} onClick={() => void measureSoftness(bench)}>
        {busy ? 'Analysing edges' : 'Measure in the picture'}
      </button>
      {said && (
        <p className="mt-1 text-[12px] text-quiet" role="status">
          {said}
        </p>
      )}
      <div className="mt-1">
        <StepNumbers {...props} step="sharpen" numbers={[...AMOUNT, ...RADIUS[sharpen.softness], ...HELD]} />
        <StepNumbers {...props} step="afterNoise" numbers={AFTER} />
      </div>
      <label className="flex items-center justify-between gap-3 py-1.5">
        <span>Starting point</span>
        <select
          className="field !w-44 py-1"
          value=""
          onChange={(e) => {
            const subject = SUBJECTS.find((s) => s.name === e.target.value)
            if (subject) set(subject.settings, `Sharpness as for ${subject.name.toLowerCase()}`)
          }}
        >
          <option value="">Choose a subject</option>
          {SUBJECTS.map((s) => (
            <option key={s.name}>{s.name}</option>
          ))}
        </select>
      </label>
      {sharpen.amount > 0 && (
        <Toggle
          label="Show affected areas"
          checked={mask === 'sharpen'}
          onChange={(on) => setMask(on ? 'sharpen' : undefined)}
        />
      )}
    </StepSection>
  )
}

export function UnsharpSection() {
  const props = useSection('unsharp')
  const { development } = props
  const [mask, setMask] = useAtom(maskAtom)
  return (
    <StepSection {...props} title="Unsharp masking" steps={['unsharp']} folded>
      <StepNumbers {...props} step="unsharp" numbers={UNSHARP} />
      {development.steps.unsharp.strength > 0 && (
        <Toggle
          label="Show affected areas"
          checked={mask === 'unsharp'}
          onChange={(on) => setMask(on ? 'unsharp' : undefined)}
        />
      )}
    </StepSection>
  )
}
