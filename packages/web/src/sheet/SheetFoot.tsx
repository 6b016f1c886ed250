import { ImagePlus, Info, Trash2 } from 'lucide-react'
import { useChanges } from './changes'

/** Least sides of the pictures, CSS pixels. */
export const SIZES = { least: 110, most: 420, step: 10 }
/** Seconds within which frames are folded, until others are asked for. */
export const FOLD_SECONDS = 3

interface Props {
  shootId: string
  /** How many frames are shown, in words. */
  counts: string
  chosen: number
  inBin: number
  binOpen: boolean
  foldSeconds: number
  moveOn: boolean
  size: number
  details: boolean
  onFold(seconds: number): void
  onBin(): void
  onTakeBack(): void
  onTakeOut(): void
  onEmpty(): void
  onMoveOn(): void
  onSize(size: number): void
  onDetails(): void
  onBring(): void
}

/** The line below the sheet: what is shown and was done, and how the sheet is to look. */
export function SheetFoot(props: Props) {
  const { inBin, foldSeconds } = props
  const { done, said, problem } = useChanges()
  return (
    <footer className="flex h-11 shrink-0 items-center gap-4 border-t border-line bg-panel px-6 text-[12px]">
      <span className="whitespace-nowrap" data-testid="counts">
        {props.counts}
        {props.chosen > 0 && `, ${props.chosen} chosen`}
      </span>
      <span role="status" className={`min-w-0 truncate ${problem ? 'text-bright' : 'text-quiet'}`}>
        {problem || said}
      </span>
      {said && done.at(-1)?.shootId === props.shootId && done.at(-1)?.label === said && (
        <button className="button !py-0.5" onClick={props.onTakeBack}>
          Undo
        </button>
      )}
      <span className="ml-auto flex items-center gap-2">
        {props.binOpen && props.chosen > 0 && (
          <button className="button !py-0.5" onClick={props.onTakeOut}>
            Restore from the bin
          </button>
        )}
        {props.binOpen && inBin > 0 && (
          <button className="button !py-0.5" onClick={props.onEmpty}>
            Empty the bin
          </button>
        )}
        <button className="button !py-0.5" aria-pressed={props.binOpen} onClick={props.onBin}>
          <Trash2 className="h-3.5 w-3.5" aria-hidden /> Bin <span className="text-quiet">{inBin}</span>
        </button>
        <button
          className="button !py-0.5"
          aria-pressed={foldSeconds > 0}
          onClick={() => props.onFold(foldSeconds ? 0 : FOLD_SECONDS)}
        >
          Stacks
        </button>
        {foldSeconds > 0 && (
          <label className="flex items-center gap-1 text-quiet">
            within
            <input
              className="field !w-12 !py-0.5 text-right"
              inputMode="numeric"
              aria-label="Seconds between the frames of a stack"
              defaultValue={foldSeconds}
              key={foldSeconds}
              onBlur={(e) => {
                const n = Number(e.target.value)
                if (n > 0 && n <= 3600) props.onFold(n)
              }}
              onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
            />
            s
          </label>
        )}
        <button
          className="button !py-0.5"
          aria-pressed={props.moveOn}
          title="Go to the next frame once one is rated"
          onClick={props.onMoveOn}
        >
          Auto-advance
        </button>
        <label className="ml-2 flex items-center gap-2">
          <span className="text-quiet">Size</span>
          <input
            type="range"
            className="!w-28"
            min={SIZES.least}
            max={SIZES.most}
            step={SIZES.step}
            value={props.size}
            aria-label="Size of the pictures"
            onChange={(e) => props.onSize(Number(e.target.value))}
          />
        </label>
        <button
          className="icon-button"
          aria-label="Details"
          aria-pressed={props.details}
          onClick={props.onDetails}
        >
          <Info className="h-4 w-4" aria-hidden />
        </button>
        <button className="button" onClick={props.onBring}>
          <ImagePlus className="h-4 w-4" aria-hidden /> Bring in
        </button>
      </span>
    </footer>
  )
}
