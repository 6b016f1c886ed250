import { bringTo } from '../colours'
import { colourfulness } from '../colourfulness/step'
import { curve } from '../curve/step'
import { hueNodes } from '../hueNodes/step'
import { monochrome } from '../monochrome/step'
import { primaries } from '../primaries/step'
import { rangeCurve } from '../rangeCurve/step'
import { defineStep, type Step } from '../step'
import { tints } from '../tints/step'
import { toning } from '../toning/step'
import { lookById } from './looks'
import { runTable } from './table'
import { LookSchema, type LookSettings, type Recipe } from './schema'

// eslint-disable-next-line @typescript-eslint/no-explicit-any -- each step has settings of its own
const INGREDIENTS: readonly Step<any, any>[] = [
  primaries,
  curve,
  rangeCurve,
  hueNodes,
  colourfulness,
  tints,
  monochrome,
  toning,
]

interface Prepared {
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- each step has data of its own
  steps: { step: Step<any, any>; prepared: unknown }[]
}

const recipeOf = ({ kind, id, recipe }: LookSettings): Recipe | undefined =>
  kind === 'own' ? lookById(id)?.recipe : kind === 'recipe' ? recipe : undefined

/** A named character, put over the finished tones: other steps with settings of their own, or a table of colours. */
export const look = defineStep({
  id: 'look',
  name: 'Look',
  says: ({ name }) => name,
  stage: 'balance',
  schema: LookSchema,
  neutral: { kind: 'none', id: '', name: '' },
  essential: false,
  keep: false,
  takes: 'picture',
  yields: 'display',
  colours: 'oklab',
  idle: (s) => s.kind === 'none' || (s.kind !== 'table' && !recipeOf(s)),
  table: (s) => (s.kind === 'table' ? s.id : undefined),
  reach: () => 0,
  prepare(settings, context): Prepared {
    const recipe = recipeOf(settings) ?? {}
    return {
      steps: INGREDIENTS.flatMap((step) => {
        const part = recipe[step.id as keyof Recipe]
        return part && !step.idle?.(part) ? [{ step, prepared: step.prepare(part, context) }] : []
      }),
    }
  },
  run(tile, { steps }, surveyed) {
    if (surveyed) runTable(tile, surveyed)
    for (const { step, prepared } of steps) {
      bringTo(tile, step.colours ?? 'rgb')
      step.run(tile, prepared)
    }
    bringTo(tile, 'oklab')
  },
})
