import { MARK_PLACES, MarkSchema, MOST_MARK, type Mark } from '@dunkelkammer/core'
import { useRef, useState } from 'react'
import { LabelledInput } from '../../controls/LabelledInput'
import { ErrorNotice } from '../../shell/Notice'
import { Colour } from './Colour'
import { Amount, Line, Pick } from './fields'
import { HiddenFiles } from '../../controls/HiddenFiles'

const KINDS = [
  { value: 'none', label: 'None' },
  { value: 'words', label: 'Words' },
  { value: 'picture', label: 'Picture (PNG)' },
] as const
const PLACES = MARK_PLACES.map((value) => ({ value, label: value[0].toUpperCase() + value.slice(1) }))

/** Bytes as base64. */
const inBase64 = (file: Blob): Promise<string> =>
  new Promise((resolve, reject) => {
    const reader = new FileReader()
    reader.onload = () => resolve((reader.result as string).replace(/^[^,]*,/, ''))
    reader.onerror = () => reject(new Error('This picture cannot be read.'))
    reader.readAsDataURL(file)
  })

/** Words or a picture over the finished picture. */
export function MarkFields(props: { mark: Mark | null; onChange(mark: Mark | null): void }) {
  const { mark, onChange } = props
  const input = useRef<HTMLInputElement>(null)
  const [problem, setProblem] = useState<string>()
  const load = async (file: File) => {
    setProblem(undefined)
    try {
      const data = await inBase64(file)
      if (data.length > MOST_MARK) throw new Error('The picture of a mark may have at most 1 MB.')
      const common = mark && { place: mark.place, inset: mark.inset, opacity: mark.opacity }
      const read = MarkSchema.safeParse({ ...common, kind: 'picture', data })
      if (!read.success) throw new Error('The picture of a mark is a PNG file.')
      onChange(read.data)
    } catch (error) {
      setProblem(`${file.name}: ${(error as Error).message}`)
    }
  }
  const choose = (kind: (typeof KINDS)[number]['value']) => {
    setProblem(undefined)
    if (kind === 'picture') input.current?.click()
    else onChange(kind === 'none' ? null : MarkSchema.parse({ kind: 'words', text: '© ' }))
  }
  return (
    <>
      <Pick label="Mark" value={mark?.kind ?? 'none'} options={KINDS} onChange={choose} />
      <HiddenFiles
        ref={input}
        label="Picture of the mark"
        accept="image/png"
        onFiles={([file]) => void load(file)}
      />
      {problem && <ErrorNotice>{problem}</ErrorNotice>}
      {mark?.kind === 'words' && (
        <>
          <LabelledInput
            label="Words of the mark"
            value={mark.text}
            maxLength={200}
            className="pb-1"
            onChange={(text) => onChange({ ...mark, text })}
          />
          <Colour
            label="Colour of the words"
            value={mark.colour}
            onChange={(colour) => onChange({ ...mark, colour })}
          />
        </>
      )}
      {mark?.kind === 'picture' && (
        <Line label="Picture">
          <img
            src={`data:image/png;base64,${mark.data}`}
            alt="Picture of the mark"
            className="h-8 max-w-24 border border-line bg-panel object-contain"
          />
          <button type="button" className="button" onClick={() => input.current?.click()}>
            Another
          </button>
        </Line>
      )}
      {mark && (
        <>
          <Pick
            label="Place of the mark"
            value={mark.place}
            options={PLACES}
            onChange={(place) => onChange({ ...mark, place })}
          />
          <Line label={mark.kind === 'words' ? 'Height of a line' : 'Longer side'}>
            <Amount
              label="Size of the mark"
              unit="%"
              least={0.5}
              most={mark.kind === 'words' ? 50 : 100}
              value={mark.size}
              onChange={(size) => onChange({ ...mark, size })}
            />
          </Line>
          <Line label="From the edges">
            <Amount
              label="From the edges"
              unit="%"
              least={0}
              most={50}
              value={mark.inset}
              onChange={(inset) => onChange({ ...mark, inset })}
            />
          </Line>
          <Line label="Opacity">
            <Amount
              label="Opacity of the mark"
              unit="%"
              least={1}
              most={100}
              value={Math.round(mark.opacity * 100)}
              onChange={(v) => onChange({ ...mark, opacity: v / 100 })}
            />
          </Line>
        </>
      )}
    </>
  )
}
