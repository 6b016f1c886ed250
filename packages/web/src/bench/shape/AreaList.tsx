import { useAtom, useAtomValue, useSetAtom } from 'jotai'
import { DeleteButton, OnButton } from '../../controls/RowButtons'
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
            <OnButton
              label={name}
              on={area.on}
              onChange={(on) => changeArea(bench, area.id, { on }, on ? `${name} on` : `${name} off`)}
            />
            <DeleteButton label={name} onDelete={() => removeArea(bench, area.id)} />
          </>
        )
      }}
    />
  )
}
