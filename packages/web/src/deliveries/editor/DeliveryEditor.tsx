import {
  DeliverySchema,
  FILE_FORMATS,
  MEDIA,
  METADATA,
  bitsOf,
  isLinear,
  type CarriedMetadata,
  type Delivery,
  type Medium,
  type NameFacts,
} from '@dunkelkammer/core'
import { useState } from 'react'
import { sentence } from '../../api/client'
import { Toggle } from '../../controls/Toggle'
import { LabelledInput } from '../../controls/LabelledInput'
import { ErrorNotice } from '../../shell/Notice'
import { BorderFields } from './BorderFields'
import { ColourFields } from './ColourFields'
import { Amount, Line, Pick, Section } from './fields'
import { FormatFields } from './FormatFields'
import { HandOverFields } from './HandOverFields'
import { MarkFields } from './MarkFields'
import { NameFields, SAMPLE } from './NameFields'
import { PlaceFields } from './PlaceFields'
import { SheetFields } from './SheetFields'
import { SizeFields } from './SizeFields'

const MEDIUM: Readonly<Record<Medium, string>> = {
  none: 'None',
  screen: 'Screen',
  'matt paper': 'Matt paper',
  'glossy paper': 'Glossy paper',
}
const CARRIED: Readonly<Record<CarriedMetadata, string>> = {
  all: 'All',
  'no position': 'All but the position',
  words: 'Words and copyright',
  nothing: 'Nothing',
}

/** Writes a delivery's description. */
export function DeliveryEditor(props: {
  delivery: Delivery
  /** What names are shown for. */
  example?: NameFacts
  onSave(delivery: Delivery): Promise<void>
  onCancel(): void
}) {
  const [delivery, setDelivery] = useState(props.delivery)
  const [problem, setProblem] = useState<string>()
  const [busy, setBusy] = useState(false)
  const set = (part: Partial<Delivery>) => {
    setProblem(undefined)
    setDelivery((d) => {
      const next = { ...d, ...part }
      // linear light is of no use in eight bits
      const shallow = bitsOf(next.format) === 8
      if (shallow && isLinear(next.space)) return { ...next, space: 'srgb' }
      if (isLinear(next.space)) return { ...next, border: null, mark: null }
      return FILE_FORMATS[next.format.kind].holds === 'pages' ? { ...next, handOver: null } : next
    })
  }
  const { format, size, sharpening } = delivery
  const { holds, ending } = FILE_FORMATS[format.kind]
  const read = DeliverySchema.safeParse(delivery)
  const keepSettings = (
    <Toggle
      label="Keep the settings in the file"
      checked={delivery.keepSettings}
      onChange={(on) => set({ keepSettings: on })}
    />
  )
  const save = async () => {
    setBusy(true)
    try {
      await props.onSave(DeliverySchema.parse(delivery))
    } catch (error) {
      setProblem(sentence(error))
      setBusy(false)
    }
  }
  return (
    <form
      className="flex min-h-0 flex-1 flex-col"
      onSubmit={(e) => {
        e.preventDefault()
        void save()
      }}
    >
      <div className="min-h-0 flex-1 overflow-y-auto px-1 pr-3">
        <LabelledInput
          label="Name of the delivery"
          value={delivery.name}
          maxLength={80}
          autoFocus
          className="pb-3"
          onChange={(name) => set({ name })}
        />
        <Section title="File">
          <FormatFields format={format} onChange={(next) => set({ format: next })} />
        </Section>
        {format.kind === 'pdf' && (
          <Section title="Pages">
            <SheetFields sheet={format} onChange={(next) => set({ format: next })} />
          </Section>
        )}
        {(holds === 'picture' || holds === 'pages') && (
          <>
            {holds === 'picture' && (
              <Section title="Size">
                <SizeFields size={size} onChange={(next) => set({ size: next })} />
              </Section>
            )}
            <Section title="Sharpening">
              <Pick
                label="For"
                value={sharpening.medium}
                options={MEDIA.map((value) => ({ value, label: MEDIUM[value] }))}
                onChange={(medium) => set({ sharpening: { ...sharpening, medium } })}
              />
              {sharpening.medium !== 'none' && (
                <Line label="Amount">
                  <Amount
                    label="Amount"
                    unit="%"
                    least={0}
                    most={200}
                    value={Math.round(sharpening.amount * 100)}
                    onChange={(v) => set({ sharpening: { ...sharpening, amount: v / 100 } })}
                  />
                </Line>
              )}
            </Section>
            {!isLinear(delivery.space) && (
              <Section title="Border and mark">
                <BorderFields border={delivery.border} onChange={(border) => set({ border })} />
                <MarkFields mark={delivery.mark} onChange={(mark) => set({ mark })} />
              </Section>
            )}
            <Section title={holds === 'picture' ? 'Colour and metadata' : 'Colour'}>
              <ColourFields space={delivery.space} format={format} onChange={(space) => set({ space })} />
              {holds === 'picture' && (
                <Pick
                  label="Metadata"
                  value={delivery.metadata}
                  options={METADATA.map((value) => ({ value, label: CARRIED[value] }))}
                  onChange={(metadata) => set({ metadata })}
                />
              )}
              {holds === 'picture' && delivery.metadata !== 'nothing' && keepSettings}
            </Section>
          </>
        )}
        <Section title="Name and place">
          <NameFields
            delivery={delivery}
            example={{ ...(props.example ?? SAMPLE), delivery: delivery.name }}
            ending={ending || '.dng'}
            onChange={set}
          />
          <PlaceFields place={delivery.place} onChange={(place) => set({ place })} />
        </Section>
        {holds !== 'pages' && (
          <Section title="Hand over">
            <HandOverFields handOver={delivery.handOver} onChange={(handOver) => set({ handOver })} />
          </Section>
        )}
      </div>
      {problem && <ErrorNotice>{problem}</ErrorNotice>}
      <div className="flex items-center justify-end gap-2 pt-4">
        <button type="button" className="button" onClick={props.onCancel}>
          Cancel
        </button>
        <button type="submit" className="button button-main" disabled={busy || !read.success}>
          Save
        </button>
      </div>
    </form>
  )
}
