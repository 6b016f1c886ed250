import {
  appliedAt,
  developmentBetween,
  startDevelopment,
  withPortion,
  type Development,
  type FrameMetadata,
} from '@dunkelkammer/core'
import {
  NewFramesSchema,
  type NewFrameRule,
  type NewFrames,
  type PresetEntry,
  type RulePreset,
} from '@dunkelkammer/contract'
import { eq } from 'drizzle-orm'
import { randomUUID } from 'node:crypto'
import { schema, type Db } from '../db/open'
import type { PresetShelf } from './presets'
import type { Beginning } from './versions'

const { settings } = schema
const KEY = 'new frames'

/** With what frames begin that come in: by camera, lens and ISO. */
export class NewFrameRules {
  constructor(
    private readonly db: Db,
    private readonly presets: Pick<PresetShelf, 'list'>,
  ) {}

  get rules(): NewFrames {
    const row = this.db.select().from(settings).where(eq(settings.key, KEY)).get()
    return NewFramesSchema.parse(row?.value ?? {})
  }

  set rules(value: NewFrames) {
    this.db
      .insert(settings)
      .values({ key: KEY, value })
      .onConflictDoUpdate({ target: settings.key, set: { value } })
      .run()
  }

  /** What a frame begins with: by the first rule that it meets. */
  beginning(metadata: FrameMetadata): Beginning {
    const start = startDevelopment()
    const { lens, rules } = this.rules
    const plain: Development =
      lens === 'off'
        ? start
        : { ...start, steps: { ...start.steps, lens: { ...start.steps.lens, choice: lens } } }
    const rule = rules.find((r) => meets(metadata, r))
    if (!rule) return { label: 'As taken', development: plain }
    const names: string[] = []
    let development = plain
    if (rule.look.kind !== 'none') {
      names.push(rule.look.name)
      development = { ...plain, steps: { ...plain.steps, look: rule.look } }
    }
    if (rule.presets.length > 0) {
      const shelf = new Map(this.presets.list().presets.map((p) => [p.id, p]))
      // one that is no more is passed over
      const known = rule.presets.flatMap((of) => {
        const preset = shelf.get(of.preset)
        return preset ? [{ of, preset }] : []
      })
      names.push(...new Set(known.map(({ preset }) => preset.name)))
      development = withPresets(development, known, metadata.iso)
    }
    return { label: names.length > 0 ? `As taken, with ${names.join(', ')}` : 'As taken', development }
  }
}

const holds = (text: string, part: string | undefined) =>
  !part || text.toLowerCase().includes(part.toLowerCase())

function meets({ make, model, lens = '', iso }: FrameMetadata, rule: NewFrameRule): boolean {
  const { isoFrom, isoTo } = rule
  return (
    holds([make, model].filter(Boolean).join(' '), rule.camera) &&
    holds(lens, rule.lens) &&
    (isoFrom === undefined || (iso !== undefined && iso >= isoFrom)) &&
    (isoTo === undefined || (iso !== undefined && iso <= isoTo))
  )
}

interface Known {
  of: RulePreset
  preset: PresetEntry
}

/** A development with presets: those of any ISO first, then what lies at this one between those of two. */
function withPresets(start: Development, known: readonly Known[], iso: number | undefined): Development {
  const apply = (d: Development, { of, preset }: Known) =>
    withPortion(d, preset.portion, appliedAt(preset, of.strength), randomUUID)
  const always = known.filter(({ of }) => of.iso === undefined).reduce(apply, start)
  const byIso = new Map<number, Known[]>()
  for (const one of known)
    if (one.of.iso !== undefined) byIso.set(one.of.iso, [...(byIso.get(one.of.iso) ?? []), one])
  if (byIso.size === 0 || iso === undefined) return always
  const stops = [...byIso.keys()].sort((a, b) => a - b)
  const at = (stop: number) => byIso.get(stop)!.reduce(apply, always)
  const above = stops.find((stop) => stop >= iso) ?? stops.at(-1)!
  const below = stops.findLast((stop) => stop <= iso) ?? stops[0]
  if (above === below) return at(above)
  // noise goes by stops of light, not by numbers of ISO
  return developmentBetween(at(below), at(above), Math.log2(iso / below) / Math.log2(above / below))
}
