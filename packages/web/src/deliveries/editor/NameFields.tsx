import { nameFrom, namePatternProblem, type Delivery, type NameFacts } from '@dunkelkammer/core'
import { useRef } from 'react'
import { Pick } from './fields'
import { InsertToken, type Token } from './InsertToken'

type Named = { fileName: Delivery['fileName']; taken: Delivery['taken'] }

/** What a name looks like where no frame is at hand. */
export const SAMPLE: NameFacts = {
  ...{ name: 'HM0417', shoot: 'Hollenbeek Mills', version: 'First version', delivery: 'Delivery' },
  ...{ taken: '2026-05-14T06:52:11', camera: 'Veldrom 3', lens: 'Veldrom 28 mm f/2.8' },
  ...{ stars: 4, number: 1, of: 12, width: 2400, height: 1600, ppi: 300 },
}

/** How files are called, with an example, and what happens where a name is taken. */
export function NameFields(props: {
  delivery: Named
  example: NameFacts
  ending: string
  onChange(part: Partial<Named>): void
}) {
  const { delivery, example } = props
  const input = useRef<HTMLInputElement>(null)
  const problem = namePatternProblem(delivery.fileName)
  const insert = (token: Token) => {
    const at = input.current?.selectionStart ?? delivery.fileName.length
    const end = input.current?.selectionEnd ?? at
    const text = `${delivery.fileName.slice(0, at)}{${token}}${delivery.fileName.slice(end)}`
    props.onChange({ fileName: text.slice(0, 200) })
    input.current?.focus()
  }
  return (
    <>
      <label className="flex min-h-8 items-center justify-between gap-4">
        <span className="text-quiet">File name</span>
        <input
          ref={input}
          className={`field !w-60 py-1 ${problem ? '!border-safe' : ''}`}
          value={delivery.fileName}
          maxLength={200}
          aria-invalid={problem ? true : undefined}
          aria-describedby="name-example"
          onChange={(e) => props.onChange({ fileName: e.target.value })}
        />
      </label>
      <div className="flex items-start justify-between gap-4 pb-1">
        <InsertToken label="Insert into the name" onInsert={insert} />
        <p
          id="name-example"
          className={`w-60 py-1 text-[12px] break-words ${problem ? 'text-bright' : 'text-quiet'}`}
        >
          {problem ?? `${nameFrom(delivery.fileName, example)}${props.ending}`}
        </p>
      </div>
      <Pick
        label="If the name is taken"
        value={delivery.taken}
        options={[
          { value: 'number', label: 'Add a number' },
          { value: 'replace', label: 'Replace the file' },
          { value: 'skip', label: 'Skip the file' },
        ]}
        onChange={(taken) => props.onChange({ taken })}
      />
    </>
  )
}
