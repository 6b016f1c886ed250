import {
  appliedAt,
  changesBetween,
  doneAgain,
  withPortion,
  type Development,
  type Portion,
  type Preset,
  type PresetMark,
} from '@dunkelkammer/core'
import { foundAnew, Superseded } from '@dunkelkammer/engine/browser'
import { sentence } from '../../api/client'
import { deskAtom, pictureAtom } from '../state/atoms'
import type { Bench } from '../state/types'

/** A preset that is applied. */
export type Given = Preset & { id?: string }

/** Names of areas and patches that an application brings: the same again where it is changed. */
function namesOf(application: string): () => string {
  let n = 0
  return () => `${application}-${n++}`
}

/** A development with a preset, as an application of that name makes it. */
export const withPreset = (
  d: Development,
  preset: Preset,
  strength: number,
  application: string,
): Development => withPortion(d, preset.portion, appliedAt(preset, strength), namesOf(application))

/** Applies a preset, and then finds what it wants found in this picture. */
export async function applyPreset(bench: Bench, preset: Given): Promise<void> {
  const application = crypto.randomUUID()
  const desk = bench.get(deskAtom)
  const mark = { application, name: preset.name, strength: 1, ...(preset.id && { preset: preset.id }) }
  const { head } = desk.snapshot()
  bench.adjust((d) => withPreset(d, preset, 1, application), preset.name, undefined, { preset: mark })
  await findFor(bench, preset.portion, preset.name, { ...mark, from: head })
}

/** Sets what is to be found in the picture, as part of what was applied before. */
export async function findFor(
  bench: Bench,
  { automatic }: Portion,
  label: string,
  mark?: PresetMark,
): Promise<void> {
  const { get } = bench
  const picture = get(pictureAtom)
  const desk = get(deskAtom)
  if (automatic.length === 0 || !picture) return
  try {
    const asked = desk.development
    const found = await foundAnew(picture, asked, automatic)
    const changes = changesBetween(asked, found.development)
    desk.adjust((d) => doneAgain(d, changes), label, undefined, { preset: mark, found: automatic })
    bench.say(found.missing.length > 0 ? 'No lines were found that tell the level.' : undefined)
  } catch (error) {
    if (!(error instanceof Superseded)) bench.say(sentence(error))
  }
}

/** Changes how far a preset is applied, at its place in the history. */
export async function changeStrength(
  bench: Bench,
  { application, ...mark }: PresetMark,
  preset: Preset,
  strength: number,
): Promise<void> {
  const desk = bench.get(deskAtom)
  const to = await desk.reapplied(application, (d) => withPreset(d, preset, strength, application))
  if (!to) return bench.say('The history is not known that far back.')
  const label = `${mark.name} at ${Math.round(strength * 100)} %`
  bench.adjust(() => to, label, `preset ${application}`, {
    preset: { application, ...mark, strength },
  })
}

/** Takes a preset off, as if it had never been applied. */
export async function takeOff(bench: Bench, mark: PresetMark): Promise<void> {
  const desk = bench.get(deskAtom)
  const to = await desk.reapplied(mark.application)
  if (!to) return bench.say('The history is not known that far back.')
  bench.adjust(() => to, `${mark.name} taken off`, undefined, { preset: { ...mark, strength: 0 } })
}
