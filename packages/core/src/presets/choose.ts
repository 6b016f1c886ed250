import {
  fieldsOf,
  stepById,
  STAGES,
  STEP_IDS,
  valueOf,
  withValue,
  type Field,
  type StageId,
  type StepId,
} from '../steps'
import { maskedBy, type Area } from '../steps/areas/schema'
import { atStart, type Development } from '../settings'
import { emptyPortion, type PartialSettings, type Portion } from './portion'

/** Something of a development that can be taken along: a step, what of a step belongs to its frame alone, or an area. */
export interface Choice {
  /** "exposure", "cameraColour frame", "area 1f3". */
  key: string
  stage: StageId
  name: string
  step: StepId
  fields: readonly Field[]
  area?: Area
  /** Whether it is other than at the start. */
  changed: boolean
  /** It belongs to the one frame, and is not taken along unless asked for. */
  ofFrame: boolean
}

/** What a step is called in a list of steps: some have the name of another one, and a single field that tells them apart. */
export function nameInList(id: StepId): string {
  const { name } = stepById.get(id)!
  const twice = STEP_IDS.filter((other) => stepById.get(other)!.name === name).length > 1
  return twice ? fieldsOf(id)[0].label : name!
}

/** What may be chosen of a step: its fields, apart those that belong to the frame alone. */
function choicesOfStep(id: StepId, development: Development): Choice[] {
  const { stage, belongs } = stepById.get(id)!
  const name = nameInList(id)
  const base = { stage, step: id, changed: !atStart(development, [id]) }
  const all = fieldsOf(id)
  if (belongs === 'frame') return [{ ...base, key: id, name, fields: all, ofFrame: true }]
  const own = all.filter((f) => f.belongs === 'frame')
  const rest = all.filter((f) => f.belongs !== 'frame')
  return [
    { ...base, key: id, name, fields: rest, ofFrame: false },
    ...own.map((field) => ({
      ...{ ...base, key: `${id} ${field.path.join('.')}`, name: field.label },
      ...{ fields: [field], ofFrame: true },
    })),
  ]
}

/** Everything of a development that can be taken along, stage by stage in the order of the steps. */
export function choicesOf(development: Development): Choice[] {
  const all = STEP_IDS.flatMap((id) =>
    id === 'areas'
      ? development.steps.areas.areas.map((area, i): Choice => ({
          ...{ key: `area ${area.id}`, stage: 'shape', step: id, fields: [], area },
          ...{ name: area.name || `Area ${i + 1}`, changed: true, ofFrame: true },
        }))
      : choicesOfStep(id, development),
  )
  return STAGES.flatMap((stage) => all.filter((c) => c.stage === stage))
}

/** What is chosen of a development, as a portion that sets it so. */
export function portionOf(development: Development, chosen: readonly Choice[]): Portion {
  const steps: Partial<Record<StepId, PartialSettings>> = {}
  const strength: Portion['strength'] = {}
  const off: Portion['off'] = {}
  for (const { step, fields, area } of chosen) {
    if (area) continue
    for (const field of fields) {
      const value = valueOf(development.steps[step], field)
      if (value !== undefined)
        steps[step] = withValue(steps[step] ?? {}, field.path, value) as PartialSettings
    }
    strength[step] = development.strength[step] ?? 1
    off[step] = development.off.includes(step)
  }
  const all = development.steps.areas.areas
  const areas = chosen.flatMap(({ area }) => (area ? [area] : []))
  const come = new Set(areas.map(({ id }) => id))
  return {
    ...emptyPortion(),
    steps,
    strength,
    off,
    areas: areas.map((area) => {
      if (area.maskOf === undefined || come.has(area.maskOf)) return area
      return { ...area, maskOf: undefined, mask: maskedBy(area, all).mask }
    }),
  }
}

/** A portion without what is as at the start: what a look or a preset is made of, as it says nothing of the rest. */
export const changedOf = (development: Development): Choice[] =>
  choicesOf(development).filter(({ changed, ofFrame }) => changed && !ofFrame)
