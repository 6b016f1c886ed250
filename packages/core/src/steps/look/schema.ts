import { worded } from '../field'
import { z } from 'zod'
import { ColourfulnessSchema } from '../colourfulness/schema'
import { CurveSchema } from '../curve/schema'
import { HueNodesSchema } from '../hueNodes/schema'
import { MonochromeSchema } from '../monochrome/schema'
import { PrimariesSchema } from '../primaries/schema'
import { RangeCurveSchema } from '../rangeCurve/schema'
import { TintsSchema } from '../tints/schema'
import { ToningSchema } from '../toning/schema'

/** What a look is made of: settings of the steps between the base rendering and the finish. */
export const RecipeSchema = z.strictObject({
  primaries: PrimariesSchema.optional(),
  curve: CurveSchema.optional(),
  rangeCurve: RangeCurveSchema.optional(),
  hueNodes: HueNodesSchema.optional(),
  colourfulness: ColourfulnessSchema.optional(),
  tints: TintsSchema.optional(),
  monochrome: MonochromeSchema.optional(),
  toning: ToningSchema.optional(),
})
export type Recipe = z.infer<typeof RecipeSchema>

export const LookSchema = z.object({
  /** A look of our own by its id, or one that brings what it is made of. */
  kind: worded(z.enum(['none', 'own', 'recipe', 'table']).default('none'), { label: 'Kind of look' }),
  id: worded(z.string().max(80).default(''), { label: 'Look' }),
  name: worded(z.string().max(120).default(''), { label: 'Look' }),
  recipe: worded(RecipeSchema.optional(), { label: 'Recipe of the look' }),
})
export type LookSettings = z.infer<typeof LookSchema>
