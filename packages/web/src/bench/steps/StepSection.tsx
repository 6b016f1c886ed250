import { departs, isLetIn, withoutSteps, type Development, type StepId } from '@dunkelkammer/core'
import { RotateCcw } from 'lucide-react'
import { useContext, type ReactNode } from 'react'
import { WorkplaceContext, type SectionProps } from './props'
import { NumberField } from '../../controls/NumberField'
import { Section } from './Section'

/** Controls of one or more steps: can be folded, switched off, let in by strength and set back. */
export function StepSection(
  props: Pick<SectionProps, 'development' | 'adjust'> & {
    title: string
    steps: readonly StepId[]
    /** Folded until the user opens it. */
    folded?: boolean
    /** It does something though its settings are those of the start. */
    acts?: boolean
    children: ReactNode
  },
) {
  const { title, steps, development, adjust } = props
  const place = useContext(WorkplaceContext)
  const held = (id: StepId) => development.off.includes(id) || (development.strength[id] ?? 1) !== 1
  const changed = steps.some((id) => departs(id, development) || (props.acts && held(id)))
  const shown = changed || props.acts
  const off = shown && steps.every((id) => development.off.includes(id))
  const strong = steps.some(isLetIn)
  const strength = development.strength[steps[0]] ?? 1
  const change = (label: string, how: (d: Development) => Development, gesture?: string) =>
    adjust(how, label, gesture)
  if (place)
    return (
      <Section title={title} state={changed ? 'changed' : undefined} tools={place.tools(title, steps)}>
        {props.children}
      </Section>
    )
  return (
    <Section
      title={title}
      folded={props.folded}
      state={changed ? (off ? 'off' : 'changed') : undefined}
      tools={
        shown && (
          <>
            {strong && (
              <StrengthField
                label={`Strength of ${title}`}
                value={strength}
                onChange={(value) =>
                  change(
                    `Strength of ${title}`,
                    (d) => {
                      const next = { ...d.strength }
                      for (const id of steps) {
                        if (value === 1) delete next[id]
                        else next[id] = value
                      }
                      return { ...d, strength: next }
                    },
                    `strength ${title}`,
                  )
                }
              />
            )}
            <button
              className={`px-1.5 py-0.5 text-[11px] ${off ? 'text-safe' : 'text-quiet hover:text-bright'}`}
              aria-pressed={off}
              aria-label={`${off ? 'Off' : 'On'}. Switch ${title} off`}
              onClick={() =>
                change(off ? `${title} on` : `${title} off`, (d) => ({
                  ...d,
                  off: off ? d.off.filter((id) => !steps.includes(id)) : [...d.off, ...steps],
                }))
              }
            >
              {off ? 'Off' : 'On'}
            </button>
            <button
              className="icon-button !h-6 !w-6"
              disabled={!changed}
              aria-label={`Reset ${title}`}
              title={`Reset ${title}`}
              onClick={() => change(`${title} reset`, (d) => withoutSteps(d, steps))}
            >
              <RotateCcw className="h-3.5 w-3.5" aria-hidden />
            </button>
          </>
        )
      }
    >
      {props.children}
    </Section>
  )
}

/** How far a step is let in, 0 to 150 %. */
function StrengthField(props: { label: string; value: number; onChange(value: number): void }) {
  return (
    <span className="flex items-baseline text-[11px] text-quiet">
      <NumberField
        label={props.label}
        shown={String(Math.round(props.value * 100))}
        whole
        title="Strength, 0 to 150 %"
        className={`w-11 border border-transparent bg-transparent px-0.5 text-right hover:border-edge focus:border-edge ${props.value === 1 ? 'text-quiet' : 'text-bright'}`}
        onChange={(value) => props.onChange(Math.min(Math.max(value, 0), 150) / 100)}
        onKeyDown={(event) => {
          const by = { ArrowUp: 5, ArrowDown: -5 }[event.key]
          if (!by) return
          event.preventDefault()
          props.onChange(Math.min(Math.max(Math.round(props.value * 100) + by, 0), 150) / 100)
        }}
      />
      %
    </span>
  )
}
