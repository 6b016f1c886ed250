import { fieldsIn, fieldsOf, stepById, valueOf, type StageId, type StepId } from '../steps'
import { sameSettings, valueSentence } from '../settings'
import { HueNodeSchema, type HueNode } from '../steps/hueNodes/schema'
import { fieldsHeld, withSome } from './apply'
import { nameInList } from './choose'
import { FOUND_IN, stepsSetBy, type FoundAnew, type PartialSettings, type Portion } from './portion'

/** What a portion sets of a step, in words. */
export interface SetInStep {
  step: StepId
  stage: StageId
  name: string
  /** "Exposure +0.70 EV", "Strength 50 %". */
  lines: string[]
}

/** What is called how where it is found anew in each picture. */
export const FOUND_WORDS: Readonly<Record<FoundAnew, string>> = {
  level: 'Level by lines',
  white: 'Automatic white balance',
  exposure: 'Automatic exposure',
  points: 'Automatic points',
  tones: 'Automatic tones',
}

/** The fields of a step as they are set; those that are as at the start only where nothing else is set. */
function linesOf(id: StepId, some: PartialSettings | undefined): string[] {
  const set = fieldsHeld(id, some)
  if (set.length === 0) return []
  const departing = set.filter((f) => !sameSettings(valueOf(some, f), f.start))
  if (departing.length === 0)
    return set.length === fieldsOf(id).length ? ['Reset'] : set.map((f) => `${f.label}: reset`)
  const lines = departing.map((f) => valueSentence(f, valueOf(some, f)))
  // what is too much for a number is said by the step itself
  const mute = departing.every((f, i) => lines[i] === f.label)
  const { says, schema } = stepById.get(id)!
  const said = mute ? [says?.(withSome(id, schema.parse({}), some)) ?? []].flat() : []
  return said.length > 0 ? said : lines
}

const NODE_FIELDS = fieldsIn(HueNodeSchema)

/** "Hue 250 °: colourfulness +15 %, lightness −22 %". */
function nodeWords(node: HueNode): string {
  const said = NODE_FIELDS.filter((f) => ['shift', 'colour', 'light'].includes(f.path[0])).flatMap((f) => {
    const value = valueOf(node, f)
    return value === 0 ? [] : valueSentence(f, value).replace(/^./, (c) => c.toLowerCase())
  })
  return `Hue ${Math.round(node.hue)} °: ${said.join(', ')}`
}

/** Everything that a portion sets, step by step in their order. */
export function wordsOf(portion: Portion): SetInStep[] {
  const { steps, strength, off, nodes, areas, automatic } = portion
  return stepsSetBy(portion).map((id) => {
    const { stage } = stepById.get(id)!
    const lines = linesOf(id, steps[id])
    const share = strength[id] ?? 1
    if (share !== 1) lines.push(`Strength ${Math.round(share * 100)} %`)
    if (off[id]) lines.push('Switched off')
    if (id === 'hueNodes') lines.push(...nodes.map(nodeWords))
    if (id === 'areas') lines.push(...areas.map((a, i) => a.name || `Area ${i + 1}`))
    lines.push(...automatic.filter((a) => FOUND_IN[a] === id).map((a) => FOUND_WORDS[a]))
    return { step: id, stage, name: nameInList(id), lines }
  })
}
