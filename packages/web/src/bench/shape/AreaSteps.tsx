import {
  departs,
  DodgeSchema,
  LightSchema,
  newAreaStep,
  startDevelopment,
  type Area,
  type AreaStepId,
  type Development,
  type PartId,
  type StepId,
} from '@dunkelkammer/core'
import { atom, useAtomValue } from 'jotai'
import { selectAtom } from 'jotai/utils'
import { Trash2 } from 'lucide-react'
import { useContext, useMemo } from 'react'
import { HueSection } from '../balance/HueSection'
import { NoiseSection } from '../refine/NoiseSection'
import { TintsSection } from '../balance/TintsSection'
import { CurveSection } from '../expose/CurveSection'
import { TonesSection } from '../expose/TonesSection'
import { developmentAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { OrdinarySection } from '../steps/OrdinarySection'
import { useSection, WorkplaceContext, type Workplace } from '../steps/props'
import { sectionAtom } from '../steps/sections'
import { Section } from '../steps/Section'
import { Numbers, numbersIn, numbersOf, StepNumbers, type Shown } from '../steps/StepNumbers'
import { StepSection } from '../steps/StepSection'
import {
  AREA_STEPS,
  areaAtom,
  areasAtom,
  changeArea,
  isShared,
  moveIntoArea,
  nameOf,
  stepName,
  withArea,
  type SharedStepId,
} from './areas'

const START = startDevelopment()

/** The settings of an area as if there were nothing else. */
const developmentOf = ({ steps }: Pick<Area, 'steps'>): Development => ({
  ...START,
  steps: { ...START.steps, ...steps },
})
const areaDevelopmentAtom = atom((get) => developmentOf(get(areaAtom) ?? { steps: {} }))

/** Steps of the whole picture that could be moved into an area. */
const movableAtom = selectAtom(
  atom((get) => {
    const development = get(developmentAtom)
    return AREA_STEPS.filter(isShared).filter((id) => departs(id, development))
  }),
  (all) => all,
  (a, b) => a.join() === b.join(),
)
/** In front of a step that is to be moved. */
const MOVE = 'move '

/** Steps whose ordinary controls would offer what is for the whole picture. */
const NUMBERS: Partial<Record<StepId, readonly Shown[]>> = {
  haze: numbersOf('haze', 'strength', 'depth'),
  sharpen: numbersOf('sharpen', 'amount', 'radius', 'edges', 'threshold', 'halo'),
  unsharp: numbersOf('unsharp', 'strength', 'radius', 'threshold', 'edges'),
}
/** Steps that areas alone have. */
const OWN = {
  light: numbersIn(LightSchema, 'warmth', 'tint'),
  dodge: numbersIn(DodgeSchema, 'ev'),
} as const
type OwnId = keyof typeof OWN

const BY_HAND: Partial<Record<AreaStepId, () => React.ReactNode>> = {
  tones: TonesSection,
  curve: CurveSection,
  hueNodes: HueSection,
  tints: TintsSection,
  light: () => <OwnSection step="light" />,
  dodge: () => <OwnSection step="dodge" />,
  noise: NoiseSection,
}

function PlainSection({ step }: { step: Exclude<AreaStepId, OwnId> }) {
  const props = useSection(step)
  const numbers = NUMBERS[step]
  if (!numbers) return <OrdinarySection {...props} step={step} />
  return (
    <StepSection {...props} title={stepName(step)} steps={[step]}>
      <StepNumbers {...props} step={step} numbers={numbers} />
    </StepSection>
  )
}

/** A step that the whole picture does not have. */
function OwnSection({ step }: { step: OwnId }) {
  const bench = useBench()
  const area = useAtomValue(areaAtom)
  const place = useContext(WorkplaceContext)
  const values = area?.steps[step] as Record<string, number> | undefined
  if (!area || !values) return null
  const title = stepName(step)
  return (
    <Section
      title={title}
      state={Object.values(values).some((v) => v !== 0) ? 'changed' : undefined}
      tools={place?.tools(title, [step])}
    >
      <Numbers
        numbers={OWN[step]}
        values={values}
        onChange={(name, value, label) =>
          changeArea(
            bench,
            area.id,
            (a) => ({ steps: { ...a.steps, [step]: { ...a.steps[step], [name]: value } } }),
            `${label}, ${nameOf(bench.get(areasAtom), area)}`,
            `${step} ${name}`,
          )
        }
        onEnd={bench.endGesture}
      />
    </Section>
  )
}

/** The steps of the area in the hand, and those that can be added. */
export function AreaSteps({ area }: { area: Area }) {
  const bench = useBench()
  const { id, steps } = area
  const place = useMemo(
    (): Workplace => ({
      development: areaDevelopmentAtom,
      adjust(change, label, gesture) {
        const all = bench.get(areasAtom)
        const name = nameOf(
          all,
          all.find((a) => a.id === id)!,
        )
        bench.adjust(
          (d) =>
            withArea(d, id, (a) => {
              const next = change(developmentOf(a))
              const own = Object.keys(a.steps).map((step) => [step, next.steps[step as StepId]])
              return { ...a, steps: Object.fromEntries(own) as Area['steps'] }
            }),
          `${label}, ${name}`,
          gesture && `${gesture} ${id}`,
        )
      },
      tools: (title: string, of: readonly PartId[]) => (
        <button
          className="icon-button !h-6 !w-6"
          aria-label={`Remove ${title}`}
          title={`Remove ${title} from this area`}
          onClick={() => {
            const rest = (a: Area) =>
              Object.fromEntries(Object.entries(a.steps).filter(([step]) => !of.includes(step as PartId)))
            changeArea(bench, id, (a) => ({ steps: rest(a) }), `${title} removed from an area`)
          }}
        >
          <Trash2 className="h-3.5 w-3.5" aria-hidden />
        </button>
      ),
    }),
    [bench, id],
  )
  const used = AREA_STEPS.filter((step) => steps[step])
  const unused = AREA_STEPS.filter((step) => !steps[step])
  const movable = useAtomValue(movableAtom)
  return (
    <WorkplaceContext value={place}>
      <label className="flex items-center justify-between gap-3 border-t border-line py-2">
        <span className="text-bright">Settings of this area</span>
        <select
          className="field !w-36 py-1"
          value=""
          aria-label="Add a setting to this area"
          onChange={(e) => {
            const { value } = e.target
            const step = value.replace(MOVE, '') as AreaStepId
            bench.set(sectionAtom(stepName(step)), 'open')
            if (value.startsWith(MOVE)) return moveIntoArea(bench, id, step as SharedStepId)
            changeArea(
              bench,
              id,
              (a) => ({ steps: { ...a.steps, ...newAreaStep(step, bench.get(developmentAtom).steps) } }),
              `${stepName(step)} added to an area`,
            )
          }}
        >
          <option value="">Add</option>
          {unused.map((step) => (
            <option key={step} value={step}>
              {stepName(step)}
            </option>
          ))}
          {movable.length > 0 && (
            <optgroup label="Move from the whole picture">
              {movable.map((step) => (
                <option key={step} value={`${MOVE}${step}`}>
                  {stepName(step)}
                </option>
              ))}
            </optgroup>
          )}
        </select>
      </label>
      {used.length === 0 && <p className="hint">This area changes nothing yet: add a setting.</p>}
      {used.map((step) => {
        const Own = BY_HAND[step]
        return Own ? (
          <Own key={step} />
        ) : (
          <PlainSection key={step} step={step as Exclude<AreaStepId, OwnId>} />
        )
      })}
    </WorkplaceContext>
  )
}
