import type { Patch } from '@dunkelkammer/core'
import type { View } from '@dunkelkammer/engine/browser'
import { useEffect, useRef, useState } from 'react'
import { Pixels } from '../picture/Pixels'
import { usePair } from './usePair'

/** Side of a small picture, CSS pixels. */
const SIDE = 28

/** Whether an element is in sight. */
function useInSight() {
  const element = useRef<HTMLSpanElement>(null)
  const [seen, see] = useState(false)
  useEffect(() => {
    const observer = new IntersectionObserver(([entry]) => see(entry.isIntersecting))
    observer.observe(element.current!)
    return () => observer.disconnect()
  }, [])
  return { element, seen }
}

/** A patch without and with it, small. */
export function PairOfPictures({ patch, name }: { patch: Patch; name: string }) {
  const { element, seen } = useInSight()
  const pair = usePair(patch, seen)
  return (
    <span ref={element} className="flex shrink-0 gap-0.5">
      <Small view={pair?.before} label={`${name} before`} />
      <Small view={pair?.after} label={`${name} after`} />
    </span>
  )
}

function Small({ view, label }: { view: View | undefined; label: string }) {
  return (
    <span className="relative block overflow-hidden bg-night" style={{ width: SIDE, height: SIDE }}>
      {view && (
        <Pixels
          rgba={view.rgba}
          width={view.width}
          height={view.height}
          left={0}
          top={0}
          pixel={SIDE / Math.max(view.width, view.height)}
          label={label}
        />
      )}
    </span>
  )
}
