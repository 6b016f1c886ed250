import { BorderSchema, type Border } from '@dunkelkammer/core'
import { Toggle } from '../../controls/Toggle'
import { Colour } from './Colour'
import { Amount, Line } from './fields'

const WIDTHS = [
  { key: 'width', label: 'Width', least: 0.1, most: 50 },
  { key: 'below', label: 'More below', least: 0, most: 50 },
  { key: 'line', label: 'Line along the picture', least: 0, most: 5 },
] as const

/** A border or mat around the picture. */
export function BorderFields(props: { border: Border | null; onChange(border: Border | null): void }) {
  const { border, onChange } = props
  return (
    <>
      <Toggle
        label="Border around the picture"
        checked={border !== null}
        onChange={(on) => onChange(on ? BorderSchema.parse({}) : null)}
      />
      {border && (
        <>
          {WIDTHS.map(({ key, label, least, most }) => (
            <Line key={key} label={label}>
              <Amount
                {...{ label, least, most }}
                unit="%"
                value={border[key]}
                onChange={(v) => onChange({ ...border, [key]: v })}
              />
            </Line>
          ))}
          <Colour
            label="Colour of the border"
            value={border.colour}
            onChange={(colour) => onChange({ ...border, colour })}
          />
          {border.line > 0 && (
            <Colour
              label="Colour of the line"
              value={border.lineColour}
              onChange={(lineColour) => onChange({ ...border, lineColour })}
            />
          )}
          <p className="py-1 text-quiet">
            In hundredths of the picture’s short edge. The border is part of the size above.
          </p>
        </>
      )}
    </>
  )
}
