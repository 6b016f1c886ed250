import {
  ChangeSchema,
  FOUND_ANEW,
  KELVIN,
  PresetFileSchema,
  PresetSchema,
  PortionSchema,
  STEP_IDS,
  TINT,
} from '@dunkelkammer/core'
import { z } from 'zod'
import { IdSchema } from './basics'

/** Presets of the library, and settings that go to many frames at once. */

/** Shipped ones have ids of their own, the user's are made. */
export const PresetIdSchema = z.string().regex(/^[a-z0-9-]{1,40}$/, 'no id of a preset')

export const PresetEntrySchema = PresetSchema.extend({
  id: PresetIdSchema,
  /** It comes with Dunkelkammer. */
  ships: z.boolean(),
  /** It comes with Dunkelkammer and was changed. */
  changed: z.boolean(),
})
export type PresetEntry = z.infer<typeof PresetEntrySchema>

const GroupSchema = z.string().max(80)
export const PresetsSchema = z.object({
  /** In the user's order. */
  presets: z.array(PresetEntrySchema),
  /** Groups that are not shown at the bench. */
  hidden: z.array(GroupSchema),
  /** Shipped ones that were changed or removed. */
  restorable: z.number(),
})
export type Presets = z.infer<typeof PresetsSchema>

/** What is not named stays. */
export const PresetChangeSchema = z.strictObject({
  name: PresetSchema.shape.name.optional(),
  group: GroupSchema.trim().optional(),
  notes: z.string().trim().max(2000).optional(),
  scalable: z.boolean().optional(),
  portion: PortionSchema.optional(),
})
export type PresetChange = z.infer<typeof PresetChangeSchema>
export const PresetOrderSchema = z.strictObject({ ids: z.array(PresetIdSchema).max(5000) })
export const HiddenGroupsSchema = z.strictObject({ groups: z.array(GroupSchema).max(500) })

/** What a file that was chosen holds. Nothing is taken in yet. */
export const ReadPresetsSchema = z.object({
  found: z.array(
    z.object({
      /** All of it, to be sent back where it is wanted. */
      file: PresetFileSchema,
      /** What of it is not known here, in sentences. */
      leftOut: z.array(z.string()),
      /** The preset of the same name and group. */
      same: PresetIdSchema.optional(),
    }),
  ),
  /** Files of an archive that are no presets, in sentences. */
  problems: z.array(z.string()),
})
export type ReadPresets = z.infer<typeof ReadPresetsSchema>

/** Presets that are taken in; where the name exists, beside it under another name, or in its place. */
export const ImportPresetsSchema = z.strictObject({
  presets: z
    .array(z.strictObject({ file: z.unknown(), how: z.enum(['beside', 'replace']).default('beside') }))
    .min(1)
    .max(1000),
})

/** A preset that is applied, as histories name it. */
const AppliedPresetSchema = z.strictObject({ id: PresetIdSchema.optional(), name: z.string().max(80) })

/** Exposure in stops and white. */
const LightSchema = z.strictObject({
  ev: z.number().min(-5).max(5),
  kelvin: z.number().min(KELVIN.min).max(KELVIN.max),
  tint: z.number().min(TINT.min).max(TINT.max),
})
/** The frame that another one is matched to. */
export const MatchToSchema = z.strictObject({ to: IdSchema })
/** What makes a frame agree with another one, and what it stands at. */
export const LightMatchSchema = z.object({
  /** By the scene where both show the same, else by the exposure that the cameras noted, else by how bright it is. */
  by: z.enum(['scene', 'exposure', 'brightness']),
  to: LightSchema,
  from: LightSchema,
})
export type LightMatch = z.infer<typeof LightMatchSchema>

/** What many frames are given at once. */
export const SharedSettingsSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('portion'),
    portion: PortionSchema,
    /** 0 to 1.5. */
    strength: z.number().min(0).max(1.5).default(1),
    preset: AppliedPresetSchema.optional(),
  }),
  z.strictObject({
    kind: z.literal('changes'),
    changes: z.array(ChangeSchema).max(STEP_IDS.length + 1),
    how: z.enum(['value', 'difference']),
    /** The frame that they were made on: a white balance as shot differs by what its camera took. */
    from: IdSchema.optional(),
    /** What was found in the picture where it was changed, and is found anew in each. */
    automatic: z.array(z.enum(FOUND_ANEW)).max(FOUND_ANEW.length).default([]),
  }),
  z.strictObject({
    kind: z.literal('light'),
    /** To each frame its own, by its id; those not named stay as they are. */
    light: z.record(IdSchema, LightSchema),
  }),
])
export type SharedSettings = z.output<typeof SharedSettingsSchema>

export const GiveSettingsSchema = z.strictObject({
  /** Names what is asked for: sent twice it is done once. */
  id: z.uuid().optional(),
  ids: z.array(IdSchema).min(1).max(5000),
  /** What histories call it. */
  label: z.string().trim().min(1).max(200),
  give: SharedSettingsSchema.refine(
    (give) => give.kind !== 'changes' || give.changes.length + give.automatic.length > 0,
    'nothing is given',
  ),
})
export type GiveSettings = z.input<typeof GiveSettingsSchema>
