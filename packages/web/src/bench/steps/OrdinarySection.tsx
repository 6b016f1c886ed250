import { fieldsOf, stepById, STEP_IDS, type Field, type StageId, type StepId } from '@dunkelkammer/core'
import type { ReactNode } from 'react'
import { Select } from '../../controls/Select'
import { Toggle } from '../../controls/Toggle'
import { changer, type DrawerProps } from './props'
import { section } from './section'
import { shown, StepNumbers } from './StepNumbers'
import { StepSection } from './StepSection'

type Props = Pick<DrawerProps, 'development' | 'adjust' | 'endGesture'>

/** Steps that a drawer shows in a way of its own, alone or with others. All the rest have an ordinary section. */
const BY_HAND: ReadonlySet<StepId> = new Set<StepId>([
  ...(['lens', 'fringes', 'fallOff', 'level', 'perspective', 'crop', 'edgeColour'] as const),
  ...(['exposure', 'recovery', 'highlights', 'points', 'tones', 'baseRendering'] as const),
  ...(['curve', 'rangeCurve', 'evenLighting'] as const),
  ...(['cameraColour', 'look', 'primaries', 'hueNodes', 'colourfulness', 'tints'] as const),
  ...(['monochrome', 'toning'] as const),
  ...(['noise', 'enlarge', 'sharpen', 'unsharp', 'afterNoise', 'relief', 'haze'] as const),
  ...(['defects', 'greenBalance', 'demosaic', 'edgeBurn', 'grain'] as const),
])

/** The controls of a step, made from its fields: numbers, choices and switches in the order of its schema. */
export function OrdinarySection(props: Props & { step: StepId; folded?: boolean; children?: ReactNode }) {
  const { step, development } = props
  const settings = development.steps[step] as Readonly<Record<string, unknown>>
  const set = changer(props, step) as (part: object, label: string) => void
  const control = (field: Field) => {
    const { kind, label, path, words = {} } = field
    const [name] = path
    if (kind === 'number') return <StepNumbers key={name} {...props} numbers={[shown(field)]} />
    if (kind === 'switch')
      return (
        <Toggle
          key={name}
          label={label}
          checked={settings[name] === true}
          onChange={(on) => set({ [name]: on }, label)}
        />
      )
    if (kind !== 'choice') return undefined
    const options = Object.entries(words).map(([value, text]) => ({ value, label: text }))
    return (
      <Select
        key={name}
        label={label}
        value={String(settings[name])}
        options={options}
        onChange={(value) => set({ [name]: value }, label)}
      />
    )
  }
  return (
    <StepSection {...props} title={stepById.get(step)!.name!} steps={[step]} folded={props.folded}>
      {fieldsOf(step)
        .filter(({ path }) => path.length === 1)
        .map(control)}
      {props.children}
    </StepSection>
  )
}

/** The sections of a stage that no drawer makes by hand. */
export const OrdinarySections = ({ stage, ...props }: Props & { stage: StageId }) =>
  STEP_IDS.filter((id) => stepById.get(id)!.stage === stage && !BY_HAND.has(id)).map((id) => {
    const Section = ordinary(id)
    return <Section key={id} {...props} />
  })

const made = new Map<StepId, ReturnType<typeof section<Props>>>()
/** One component for a step, so that it is drawn anew only where the step changes. */
function ordinary(id: StepId) {
  let known = made.get(id)
  if (!known) {
    known = section<Props>([id], function Ordinary(props) {
      return <OrdinarySection {...props} step={id} />
    })
    made.set(id, known)
  }
  return known
}
