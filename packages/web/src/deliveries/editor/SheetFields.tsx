import { namePatternProblem, PAPER_NAMES, sheetProblem, TURNS, type Sheet } from '@dunkelkammer/core'
import { LabelledInput } from '../../controls/LabelledInput'
import { Toggle } from '../../controls/Toggle'
import { ErrorNotice } from '../../shell/Notice'
import { Amount, Line, Pick } from './fields'
import { InsertToken } from './InsertToken'

const PAPERS = PAPER_NAMES.map((value) => ({ value, label: value === 'own' ? 'Own size' : value }))
const LIES = TURNS.map((value) => ({ value, label: value[0].toUpperCase() + value.slice(1) }))
const OWN = [
  { key: 'width', label: 'Width of the paper' },
  { key: 'height', label: 'Height of the paper' },
] as const
const LENGTHS = [
  { key: 'margin', label: 'Margin', most: 200 },
  { key: 'gap', label: 'Gap between pictures', most: 100 },
] as const
const COUNTS = [
  { key: 'columns', label: 'Pictures in a row', most: 20 },
  { key: 'rows', label: 'Rows on a page', most: 30 },
] as const

/** Paper, and how pictures lie on it. */
export function SheetFields<S extends Sheet>({ sheet, onChange }: { sheet: S; onChange(sheet: S): void }) {
  const set = (part: Partial<Sheet>) => onChange({ ...sheet, ...part })
  const problem = sheetProblem(sheet) ?? (sheet.caption ? namePatternProblem(sheet.caption) : undefined)
  return (
    <>
      <Pick label="Paper" value={sheet.paper} options={PAPERS} onChange={(paper) => set({ paper })} />
      {sheet.paper === 'own' &&
        OWN.map(({ key, label }) => (
          <Line key={key} label={label}>
            <Amount
              {...{ label, least: 20, most: 5000, unit: 'mm' }}
              value={sheet[key]}
              onChange={(v) => set({ [key]: v })}
            />
          </Line>
        ))}
      <Pick label="Paper lies" value={sheet.turn} options={LIES} onChange={(turn) => set({ turn })} />
      {COUNTS.map(({ key, label, most }) => (
        <Line key={key} label={label}>
          <Amount
            {...{ label, least: 1, most, unit: '' }}
            whole
            value={sheet[key]}
            onChange={(v) => set({ [key]: Math.round(v) })}
          />
        </Line>
      ))}
      {LENGTHS.map(({ key, label, most }) => (
        <Line key={key} label={label}>
          <Amount
            {...{ label, least: 0, most, unit: 'mm' }}
            value={sheet[key]}
            onChange={(v) => set({ [key]: v })}
          />
        </Line>
      ))}
      <Line label="Resolution">
        <Amount
          {...{ label: 'Resolution', least: 30, most: 1200, unit: 'ppi' }}
          value={sheet.ppi}
          onChange={(ppi) => set({ ppi })}
        />
      </Line>
      <LabelledInput
        label="Caption below each picture"
        value={sheet.caption}
        maxLength={300}
        className="py-1"
        onChange={(caption) => set({ caption })}
      />
      <InsertToken
        label="Insert into the caption"
        onInsert={(token) => set({ caption: `${sheet.caption} {${token}}`.trim().slice(0, 300) })}
      />
      {sheet.caption && (
        <Line label="Height of the letters">
          <Amount
            {...{ label: 'Height of the letters', least: 4, most: 72, unit: 'pt' }}
            value={sheet.captionSize}
            onChange={(captionSize) => set({ captionSize })}
          />
        </Line>
      )}
      <Toggle
        label="Cutting marks"
        checked={sheet.cuttingMarks}
        onChange={(cuttingMarks) => set({ cuttingMarks })}
      />
      {problem && <ErrorNotice>{problem}</ErrorNotice>}
    </>
  )
}
