import { useStore, type WritableAtom } from 'jotai'
import { useLayoutEffect } from 'react'
import { centreAtom, deskAtom, movementsAtom, routesAtom, toolAtom, toolProblemAtom, zoomAtom } from './atoms'
import type { Bench, Store } from './types'

function makeBench({ get, set }: Store): Bench {
  const link = (part: Readonly<Record<string, string | undefined>>) => get(routesAtom).link(part)
  const bench: Bench = {
    get,
    set,
    adjust(change, label, gesture, of) {
      if (gesture) set(movementsAtom, (n) => n + 1)
      get(deskAtom).adjust(change, label, gesture, of)
    },
    endGesture: () => get(deskAtom).endGesture(),
    holdGesture: (name) => get(deskAtom).holdGesture(name),
    dropGesture(since) {
      const desk = get(deskAtom)
      desk.endGesture()
      if (desk.development !== since) desk.undo()
    },
    take(tool) {
      set(toolProblemAtom, undefined)
      if (tool?.whole) set(zoomAtom, 'fit')
      if (tool?.stage) link({ stage: tool.stage })
      set(toolAtom, tool)
    },
    toggleTool: (tool) => bench.take(get(toolAtom) === tool ? undefined : tool),
    say: (problem) => set(toolProblemAtom, problem),
    chooseStage(stage) {
      bench.take(undefined)
      link({ stage, drawer: undefined })
    },
    zoom(zoom, at) {
      if (at) set(centreAtom, at)
      set(zoomAtom, zoom)
    },
  }
  return bench
}

const made = new WeakMap<Store, Bench>()

/** The bench of a store. */
export function benchOf(store: Store): Bench {
  let bench = made.get(store)
  if (!bench) made.set(store, (bench = makeBench(store)))
  return bench
}

/** The bench that a part lies on. */
export const useBench = (): Bench => benchOf(useStore())

/** Lets other parts read what this one knows. */
export function usePublished<T>(atom: WritableAtom<unknown, [T], unknown>, value: T): void {
  const { set } = useBench()
  useLayoutEffect(() => {
    set(atom, value)
  }, [set, atom, value])
}
