import {
  COMPRESSIONS,
  FILE_FORMATS,
  FileFormatSchema,
  FORMAT_KINDS,
  type Compression,
  type FileFormat,
} from '@dunkelkammer/core'
import { Choice } from '../../controls/Choice'
import { Toggle } from '../../controls/Toggle'
import { Amount, Line, Pick } from './fields'

const COMPRESSION: Readonly<Record<Compression, string>> = { none: 'None', deflate: 'Deflate', lzw: 'LZW' }
const CHROMA = [
  { value: 'automatic', label: 'Automatic' },
  { value: '4:4:4', label: 'Full, 4:4:4' },
  { value: '4:2:0', label: 'Quarter, 4:2:0' },
] as const

/** The kind of file, and what there is to say of each. */
export function FormatFields({
  format,
  onChange,
}: {
  format: FileFormat
  onChange(format: FileFormat): void
}) {
  return (
    <>
      <Pick
        label="Format"
        value={format.kind}
        options={FORMAT_KINDS.map((kind) => ({ value: kind, label: FILE_FORMATS[kind].label }))}
        onChange={(kind) => onChange(FileFormatSchema.parse({ kind }))}
      />
      {'quality' in format && (
        <Line label="Quality">
          <Amount
            label="Quality"
            unit=""
            least={1}
            most={100}
            whole
            value={format.quality}
            onChange={(quality) => onChange({ ...format, quality: Math.round(quality) })}
          />
        </Line>
      )}
      {format.kind === 'jpeg' && (
        <Pick
          label="Colour resolution"
          value={format.chroma}
          options={CHROMA}
          onChange={(chroma) => onChange({ ...format, chroma })}
        />
      )}
      {'bits' in format && (
        <Line label="Depth">
          <Choice
            label="Depth"
            className="!w-60"
            value={format.bits}
            options={[
              { value: 8, label: '8 bit' },
              { value: 16, label: '16 bit' },
            ]}
            onChange={(bits) => onChange({ ...format, bits })}
          />
        </Line>
      )}
      {format.kind === 'tiff' && (
        <Line label="Compression">
          <Choice
            label="Compression"
            className="!w-60"
            value={format.compression}
            options={COMPRESSIONS.map((value) => ({ value, label: COMPRESSION[value] }))}
            onChange={(compression) => onChange({ ...format, compression })}
          />
        </Line>
      )}
      {format.kind === 'original' && (
        <Toggle
          label="With its sidecar"
          checked={format.sidecar}
          onChange={(sidecar) => onChange({ ...format, sidecar })}
        />
      )}
    </>
  )
}
