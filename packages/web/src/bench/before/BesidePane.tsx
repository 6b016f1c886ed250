import { Pixels } from '../picture/Pixels'
import { placedView, type Geometry } from '../picture/geometry'
import { surroundColour, type Surround } from '../picture/surround'
import type { Shown } from '../picture/useViews'

/** What the development is compared with, beside it: the same place at the same size. */
export function BesidePane(props: { name: string; shown?: Shown; geometry?: Geometry; surround: Surround }) {
  const { name, shown, geometry } = props
  return (
    <section
      aria-label="What it is compared with"
      className="relative min-h-0 min-w-0 flex-1 overflow-hidden border-l border-line"
      style={{ backgroundColor: surroundColour(props.surround) }}
    >
      {shown && geometry && <Pixels {...placedView(shown, geometry)} label={name} />}
      <p className="pointer-events-none absolute top-3 left-3 max-w-[80%] truncate bg-night/85 px-2 py-1 text-bright">
        {name}
      </p>
    </section>
  )
}
