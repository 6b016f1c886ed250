import type { Area } from '@dunkelkammer/core'
import { useAtom } from 'jotai'
import { DeleteButton, OnButton } from '../../controls/RowButtons'
import { SortableList } from '../../controls/SortableList'
import { useBench } from '../state/bench'
import { changeShape, placeShape, removeShape, shapeIdAtom, shapeName, type Shape } from './shapes'

/** What a shape does to those before it, in front of its name. */
const SIGN: Record<Shape['way'], string> = { add: '+', take: '\u2212', common: '∩' }
const SAYS: Record<Shape['way'], string> = { add: 'added', take: 'subtracted', common: 'kept in common' }

/** The shapes of an area's mask in their order. */
export function ShapeList({ area }: { area: Area }) {
  const bench = useBench()
  const { shapes } = area.mask
  const [chosen, choose] = useAtom(shapeIdAtom)
  const name = (shape: Shape, i: number) => `${shapeName(shape)} ${i + 1}`
  if (shapes.length === 0)
    return (
      <p className="hint">
        {area.mask.start === 'everything' || area.mask.invert
          ? 'The mask is full: take away what does not belong to it.'
          : 'The mask is empty: add a shape.'}
      </p>
    )
  return (
    <SortableList
      label="Shapes"
      items={shapes}
      chosen={chosen}
      className="max-h-36"
      onPlace={(id, to) => placeShape(bench, id, to)}
      name={name}
      row={(shape, i) => (
        <>
          <button
            className={`flex min-w-0 flex-1 items-baseline gap-2 py-0.5 text-left ${shape.on ? '' : 'text-quiet line-through'}`}
            title={`${shapeName(shape)}, ${SAYS[shape.way]}`}
            onClick={() => choose(shape.id === chosen ? undefined : shape.id)}
          >
            <span className="w-3 shrink-0 text-center text-quiet" aria-label={SAYS[shape.way]}>
              {SIGN[shape.way]}
            </span>
            <span className="truncate">{shapeName(shape)}</span>
            <span className="text-[11px] text-quiet">
              {[shape.invert && 'inverted', (shape.tones || shape.colours || shape.alike) && 'limited']
                .filter(Boolean)
                .join(', ')}
            </span>
          </button>
          <OnButton
            label={name(shape, i)}
            on={shape.on}
            onChange={(on) => changeShape(bench, shape.id, { on }, on ? 'Shape on' : 'Shape off')}
          />
          <DeleteButton label={name(shape, i)} onDelete={() => removeShape(bench, shape.id)} />
        </>
      )}
    />
  )
}
