import { fieldsOf, stepById, STEP_IDS, type StageId, type StepId } from '@dunkelkammer/core'
import type { ReactNode } from 'react'
import { FieldControl } from './FieldControl'
import { useSection, type SectionProps } from './props'
import { StepSection } from './StepSection'

type Props = Pick<SectionProps, 'development' | 'adjust' | 'endGesture'>

/** Steps that a drawer shows in a way of its own, alone or with others. All the rest have an ordinary section. */
const BY_HAND: ReadonlySet<StepId> = new Set<StepId>([
  ...(['lens', 'fringes', 'fallOff', 'level', 'perspective', 'crop', 'edgeColour'] as const),
  ...(['exposure', 'recovery', 'highlights', 'points', 'tones', 'baseRendering'] as const),
  ...(['curve', 'rangeCurve', 'evenLighting'] as const),
  ...(['cameraColour', 'look', 'primaries', 'hueNodes', 'colourfulness', 'tints'] as const),
  ...(['monochrome', 'toning'] as const),
  'patches',
  'areas',
  ...(['noise', 'enlarge', 'sharpen', 'unsharp', 'afterNoise', 'relief', 'haze'] as const),
  ...(['defects', 'greenBalance', 'demosaic', 'edgeBurn', 'grain'] as const),
])

/** The controls of a step, made from its fields: numbers, choices and switches in the order of its schema. */
export function OrdinarySection(props: Props & { step: StepId; folded?: boolean; children?: ReactNode }) {
  const { step } = props
  return (
    <StepSection {...props} title={stepById.get(step)!.name!} steps={[step]} folded={props.folded}>
      {fieldsOf(step)
        .filter(({ path }) => path.length === 1)
        .map((field) => (
          <FieldControl key={field.path[0]} {...props} field={field} />
        ))}
      {props.children}
    </StepSection>
  )
}

const Ordinary = ({ step }: { step: StepId }) => <OrdinarySection {...useSection(step)} step={step} />

/** The sections of a stage that no drawer makes by hand. */
export const OrdinarySections = ({ stage }: { stage: StageId }) =>
  STEP_IDS.filter((id) => stepById.get(id)!.stage === stage && !BY_HAND.has(id)).map((id) => (
    <Ordinary key={id} step={id} />
  ))
