import { useAtom, useAtomValue, useSetAtom } from 'jotai'
import { Eye, EyeOff, Trash2 } from 'lucide-react'
import { SortableList } from '../../controls/SortableList'
import { useBench } from '../state/bench'
import { areaIdAtom, areasAtom, changeArea, nameOf, placeArea, removeArea } from './areas'
import { aloneAtom, hoveredAtom } from './maskView'
import { shapeIdAtom } from './shapes'

/** Every area in its order. */
export function AreaList() {
  const bench = useBench()
  const areas = useAtomValue(areasAtom)
  const [chosen, choose] = useAtom(areaIdAtom)
  const hover = useSetAtom(hoveredAtom)
  if (areas.length === 0)
    return (
      <p className="hint">
        An area is a part of the picture with settings of its own. Draw or paint one with a tool below.
      </p>
    )
  return (
    <SortableList
      label="Areas"
      items={areas}
      chosen={chosen}
      className="max-h-44"
      onPlace={(id, to) => placeArea(bench, id, to)}
      onHover={(id) => hover(id === chosen ? undefined : id)}
      name={(area) => nameOf(areas, area)}
      row={(area) => {
        const name = nameOf(areas, area)
        return (
          <>
            <button
              className={`min-w-0 flex-1 truncate py-0.5 text-left ${area.on ? '' : 'text-quiet line-through'}`}
              title={name}
              onClick={() => {
                hover(undefined)
                bench.set(shapeIdAtom, undefined)
                bench.set(aloneAtom, undefined)
                choose(area.id === chosen ? undefined : area.id)
              }}
            >
              {name}
            </button>
            {area.strength !== 1 && (
              <span className="text-[11px] text-quiet tabular-nums">{Math.round(area.strength * 100)} %</span>
            )}
            <button
              className="icon-button !h-6 !w-6"
              aria-label={`${name} on`}
              aria-pressed={area.on}
              title={area.on ? 'Switch off' : 'Switch on'}
              onClick={() =>
                changeArea(bench, area.id, { on: !area.on }, area.on ? `${name} off` : `${name} on`)
              }
            >
              {area.on ? (
                <Eye className="h-3.5 w-3.5" aria-hidden />
              ) : (
                <EyeOff className="h-3.5 w-3.5" aria-hidden />
              )}
            </button>
            <button
              className="icon-button !h-6 !w-6"
              aria-label={`Delete ${name}`}
              title="Delete"
              onClick={() => removeArea(bench, area.id)}
            >
              <Trash2 className="h-3.5 w-3.5" aria-hidden />
            </button>
          </>
        )
      }}
    />
  )
}
