import { useAtom, useAtomValue } from 'jotai'
import { SET_FRAME } from './tools'
import type { CropSettings } from '@dunkelkammer/core'
import { ArrowLeftRight } from 'lucide-react'
import { Choice } from '../../controls/Choice'
import { NumberField } from '../../controls/NumberField'
import { Select } from '../../controls/Select'
import { StepSection } from '../steps/StepSection'
import { Toggle } from '../../controls/Toggle'
import { GUIDE_KINDS, guidesAtom, outsideAtom, OUTSIDES, type GuideKind, type Outside } from './settings'
import { allowedBox, ratioOf, rectOf, reshapedBox } from './cropping'
import { changer, useSection } from '../steps/props'
import { framedAtom } from '../state/atoms'

const RATIO_NAMES: readonly { value: CropSettings['ratio']; label: string }[] = [
  { value: 'taken', label: 'As taken' },
  { value: 'free', label: 'Free' },
  { value: 'square', label: '1 : 1' },
  { value: '5:4', label: '5 : 4' },
  { value: '4:3', label: '4 : 3' },
  { value: '3:2', label: '3 : 2' },
  { value: 'din', label: 'DIN paper' },
  { value: '16:9', label: '16 : 9' },
  { value: 'own', label: 'Custom' },
]
const GUIDE_NAMES: Record<GuideKind, string> = {
  none: 'None',
  thirds: 'Thirds',
  golden: 'Golden section',
  diagonals: 'Diagonals',
  grid: 'Grid',
  centre: 'Centre',
}
const OUTSIDE_NAMES: Record<Outside, string> = { dimmed: 'Dimmed', hidden: 'Hidden' }
const INCH = 2.54

/** The part of the picture that is delivered. */
export function CropSection() {
  const props = useSection('crop', 'level')
  const { development, tool, toggleTool } = props
  const square = useAtomValue(framedAtom)
  const [guides, setGuides] = useAtom(guidesAtom)
  const [outside, setOutside] = useAtom(outsideAtom)
  const { crop, level } = development.steps
  const set = changer(props, 'crop')
  /** Another shape for the frame, about the middle of the one that is there. */
  const reshape = (part: Partial<CropSettings>, label: string, gesture?: string) => {
    const next = { ...crop, ...part }
    const ratio = ratioOf(next, square.size, level.turns)
    if (ratio === undefined) return set(part, label, gesture)
    const bounds = { ...square.box, width: square.size.width * 2, height: square.size.height * 2 }
    const box = reshapedBox(square.box, ratio, allowedBox(square, crop.inside, bounds))
    const whole = next.ratio === 'taken' && !next.upright && !crop.rect
    set({ ...part, rect: whole ? null : (rectOf(square, box) ?? crop.rect) }, label, gesture)
  }
  const long = Math.max(square.width, square.height)
  const ppi = long / (crop.paper / INCH)
  const centimetres = (px: number) => ((px / long) * crop.paper).toFixed(1)
  return (
    <StepSection {...props} title="Crop" steps={['crop']}>
      <button
        className="button w-full"
        aria-pressed={tool === SET_FRAME}
        onClick={() => toggleTool(SET_FRAME)}
      >
        {tool === SET_FRAME ? 'Done' : 'Crop on the picture'}
      </button>
      <div className="flex items-center gap-1">
        <div className="min-w-0 flex-1">
          <Select
            label="Ratio"
            value={crop.ratio}
            options={RATIO_NAMES}
            onChange={(ratio) => reshape({ ratio }, 'Crop ratio')}
          />
        </div>
        <button
          className="icon-button"
          aria-label="Turn the ratio"
          title="Turn the ratio"
          aria-pressed={crop.upright}
          disabled={crop.ratio === 'free' || crop.ratio === 'square'}
          onClick={() => reshape({ upright: !crop.upright }, 'Ratio turned')}
        >
          <ArrowLeftRight className="h-4 w-4" aria-hidden />
        </button>
      </div>
      {crop.ratio === 'own' && (
        <div className="flex items-center justify-end gap-1 py-1">
          {([0, 1] as const).map((i) => (
            <span key={i} className="contents">
              {i === 1 && ':'}
              <NumberField
                className="field !w-20 py-1 text-right"
                label={i ? 'Height of the ratio' : 'Width of the ratio'}
                shown={String(crop.own[i])}
                onChange={(written) => {
                  const value = Math.min(Math.max(written, 0.1), 100)
                  const own: [number, number] = i ? [crop.own[0], value] : [value, crop.own[1]]
                  reshape({ own }, 'Crop ratio', 'crop own')
                }}
              />
            </span>
          ))}
        </div>
      )}
      <Toggle
        label="No empty corners"
        checked={crop.inside}
        onChange={(inside) => set({ inside }, inside ? 'No empty corners' : 'Empty corners allowed')}
      />
      <Select
        label="Guides"
        value={guides}
        options={GUIDE_KINDS.map((value) => ({ value, label: GUIDE_NAMES[value] }))}
        onChange={setGuides}
      />
      <div className="flex items-center justify-between gap-3 py-1.5">
        <span>Outside</span>
        <Choice
          label="Outside of the crop"
          value={outside}
          options={OUTSIDES.map((value) => ({ value, label: OUTSIDE_NAMES[value] }))}
          onChange={setOutside}
        />
      </div>
      <dl
        className="mt-1 grid grid-cols-[1fr_auto] gap-y-1 text-[12px] text-quiet"
        aria-label="Size of the crop"
      >
        <dt>Pixels</dt>
        <dd className="text-right text-text">
          {square.width} × {square.height}
        </dd>
        <dt>Print, longer side</dt>
        <dd className="text-right">
          <NumberField
            className="field !w-16 !py-0.5 text-right"
            label="Print, longer side, centimetres"
            shown={String(crop.paper)}
            onChange={(written) => set({ paper: Math.min(Math.max(written, 1), 500) }, 'Print size', 'paper')}
          />{' '}
          cm
        </dd>
        <dt>Print size</dt>
        <dd className="text-right text-text">
          {centimetres(square.width)} × {centimetres(square.height)} cm, {Math.round(ppi)} ppi
        </dd>
      </dl>
    </StepSection>
  )
}
