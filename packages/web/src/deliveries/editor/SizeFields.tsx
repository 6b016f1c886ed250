import { EDGE, DeliverySizeSchema, USUAL_PPI, type DeliverySize } from '@dunkelkammer/core'
import { Toggle } from '../../controls/Toggle'
import { Amount, Line, Pick } from './fields'

const WAYS = [
  { value: 'full', label: 'Full size' },
  { value: 'long edge', label: 'Long edge' },
  { value: 'short edge', label: 'Short edge' },
  { value: 'fit', label: 'Within a width and height' },
  { value: 'fill', label: 'Exactly a width and height' },
  { value: 'megapixels', label: 'Megapixels' },
  { value: 'percent', label: 'Per cent' },
  { value: 'print', label: 'Centimetres on paper' },
] as const satisfies readonly { value: DeliverySize['by']; label: string }[]

/** What each way of saying a size begins with. */
const STARTS: Readonly<Record<DeliverySize['by'], object>> = {
  full: {},
  'long edge': { pixels: 2400 },
  'short edge': { pixels: 1600 },
  fit: { width: 1920, height: 1080 },
  fill: { width: 1200, height: 1200 },
  megapixels: { megapixels: 12 },
  percent: { percent: 50 },
  print: { widthCm: 30, heightCm: 20 },
}
const PLACES = [
  { value: '0', label: 'Left or top' },
  { value: '0.5', label: 'Middle' },
  { value: '1', label: 'Right or bottom' },
] as const

const px = { unit: 'px', least: EDGE.least, most: EDGE.most, whole: true } as const

/** How large files are. */
export function SizeFields({ size, onChange }: { size: DeliverySize; onChange(size: DeliverySize): void }) {
  // what was said of resolution and kernel stays when the way changes
  const begin = (by: DeliverySize['by']) => {
    const { ppi } = size
    const kept = by !== 'full' && size.by !== 'full' ? { enlarge: size.enlarge, kernel: size.kernel } : {}
    onChange(DeliverySizeSchema.parse({ by, ppi, ...kept, ...STARTS[by] }))
  }
  return (
    <>
      <Pick label="Size" value={size.by} options={WAYS} onChange={begin} />
      {(size.by === 'long edge' || size.by === 'short edge') && (
        <Line label="Pixels">
          <Amount
            label="Pixels"
            {...px}
            value={size.pixels}
            onChange={(pixels) => onChange({ ...size, pixels })}
          />
        </Line>
      )}
      {(size.by === 'fit' || size.by === 'fill') && (
        <Line label="Width and height">
          <Amount
            label="Width"
            {...px}
            value={size.width}
            onChange={(width) => onChange({ ...size, width })}
          />
          <Amount
            label="Height"
            {...px}
            value={size.height}
            onChange={(height) => onChange({ ...size, height })}
          />
        </Line>
      )}
      {size.by === 'fill' && (
        <Pick
          label="Part that is kept"
          value={PLACES.find((p) => Number(p.value) === size.x)?.value ?? '0.5'}
          options={PLACES}
          onChange={(at) => onChange({ ...size, x: Number(at), y: Number(at) })}
        />
      )}
      {size.by === 'megapixels' && (
        <Line label="Megapixels">
          <Amount
            label="Megapixels"
            unit="MP"
            least={0.01}
            most={1000}
            value={size.megapixels}
            onChange={(megapixels) => onChange({ ...size, megapixels })}
          />
        </Line>
      )}
      {size.by === 'percent' && (
        <Line label="Of the picture">
          <Amount
            label="Per cent"
            unit="%"
            least={1}
            most={400}
            value={size.percent}
            onChange={(percent) => onChange({ ...size, percent })}
          />
        </Line>
      )}
      {size.by === 'print' && (
        <Line label="Width and height">
          <Amount
            label="Width"
            unit="cm"
            least={0.5}
            most={500}
            value={size.widthCm}
            onChange={(widthCm) => onChange({ ...size, widthCm })}
          />
          <Amount
            label="Height"
            unit="cm"
            least={0.5}
            most={500}
            value={size.heightCm}
            onChange={(heightCm) => onChange({ ...size, heightCm })}
          />
        </Line>
      )}
      {size.by !== 'print' && (
        <Toggle
          label="Resolution of the original"
          checked={size.ppi === undefined}
          onChange={(kept) => onChange({ ...size, ppi: kept ? undefined : USUAL_PPI })}
        />
      )}
      {size.ppi !== undefined && (
        <Line label="Resolution">
          <Amount
            label="Resolution"
            unit="ppi"
            least={10}
            most={4800}
            value={size.ppi}
            onChange={(ppi) => onChange({ ...size, ppi })}
          />
        </Line>
      )}
      {size.by !== 'full' && (
        <>
          <Pick
            label="Resampling"
            value={size.kernel}
            options={[
              { value: 'cubic', label: 'Cubic, smooth' },
              { value: 'lanczos', label: 'Lanczos, crisper' },
            ]}
            onChange={(kernel) => onChange({ ...size, kernel })}
          />
          <Toggle
            label="Enlarge smaller pictures"
            checked={size.enlarge}
            onChange={(enlarge) => onChange({ ...size, enlarge })}
          />
        </>
      )}
    </>
  )
}
