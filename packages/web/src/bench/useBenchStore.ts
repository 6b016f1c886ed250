import type { FramePage, ShootPage } from '@dunkelkammer/contract'
import { createStore, useAtomValue } from 'jotai'
import { useEffect, useLayoutEffect, useRef, useState } from 'react'
import { useNavigate, useSearchParams } from 'react-router'
import { api } from '../api/client'
import { VersionDesk } from '../desk/versionDesk'
import { FEATURES } from './features'
import { readZoom } from './picture/geometry'
import {
  addressAtom,
  centreAtom,
  commandsAtom,
  deskAtom,
  developmentAtom,
  pageAtom,
  plainSquareAtom,
  previewUrlAtom,
  routesAtom,
  shootAtom,
  squaredAtom,
  standAtom,
  versionAtom,
  zoomAtom,
} from './state/atoms'
import { benchOf } from './state/bench'
import type { Bench, Store } from './state/types'

/** The place in an address, fractions of the picture. */
function placeIn(search: URLSearchParams) {
  const [x, y] = (search.get('at') ?? '').split(',').map(Number)
  return x >= 0 && y >= 0 && x <= 1 && y <= 1 ? { x, y } : undefined
}

/** What stays while frame follows on frame. */
function carryOver(before: Store, store: Store): Store {
  FEATURES.forEach(({ keeps }) => keeps?.forEach((keep) => keep(before, store)))
  return store
}

// apart from what makes the store: a command must not keep the store of the frame before, and all before that
const commandsOf = (bench: Bench) => ({
  list: () => FEATURES.flatMap(({ commands }) => commands?.(bench) ?? []),
})

/** All that parts of the bench read at once. */
function newStore(page: FramePage, shoot: ShootPage, search: URLSearchParams): Store {
  const store = createStore()
  const { get, set } = store
  set(pageAtom, page)
  set(shootAtom, shoot)
  set(addressAtom, search)
  set(zoomAtom, readZoom(search.get('zoom')))
  const at = placeIn(search)
  if (at) set(centreAtom, at)
  set(previewUrlAtom, page.frame.hasPreview ? api.previewUrl(page.frame.id) : undefined)
  const desk = VersionDesk.of(get(versionAtom))
  set(deskAtom, desk)
  set(standAtom, desk.snapshot())
  set(commandsAtom, commandsOf(benchOf(store)))
  set(squaredAtom, { development: get(developmentAtom), square: get(plainSquareAtom) })
  return store
}

/** Lets the bench change the address, and follows it where it is changed from outside. */
function useAddress({ set }: Store): void {
  const [search, setSearch] = useSearchParams()
  const navigate = useNavigate()
  // the address as it will be once all that was asked has come about, and what is still on its way to it
  const asked = useRef(search)
  const coming = useRef<string[]>([])
  useLayoutEffect(() => {
    set(routesAtom, {
      link(part) {
        const next = new URLSearchParams(asked.current)
        for (const [name, value] of Object.entries(part)) {
          if (value === undefined) next.delete(name)
          else next.set(name, value)
        }
        if (next.toString() === asked.current.toString()) return
        asked.current = next
        coming.current.push(next.toString())
        set(addressAtom, next)
        setSearch(next, { replace: true })
      },
      go: (path) => void navigate(path),
    })
  }, [set, setSearch, navigate])
  const text = search.toString()
  useLayoutEffect(() => {
    // what comes about late must not bring back what has been changed meanwhile
    const late = coming.current.indexOf(text)
    coming.current.splice(0, late + 1)
    if (late >= 0 || text === asked.current.toString()) return
    asked.current = search
    set(addressAtom, search)
    set(zoomAtom, readZoom(search.get('zoom')))
    const at = placeIn(search)
    if (at) set(centreAtom, at)
  }, [set, search, text])
}

/**
 * The store of a bench: as long as its frame is there, told of what comes from outside.
 * @param last holds the store of the frame before, as long as frame follows on frame
 */
export function useBenchStore(page: FramePage, shoot: ShootPage, last: { current?: Store }): Store {
  const [search] = useSearchParams()
  const [store] = useState(() => {
    const made = newStore(page, shoot, search)
    return last.current ? carryOver(last.current, made) : made
  })
  const { get, set } = store
  useEffect(() => {
    last.current = store
  }, [last, store])
  useAddress(store)
  useLayoutEffect(() => {
    set(pageAtom, page)
    set(shootAtom, shoot)
  }, [set, page, shoot])
  // a version's own saves come back as new data; only another version needs another desk
  const { id } = useAtomValue(versionAtom, { store })
  useLayoutEffect(() => {
    if (get(deskAtom).id === id) return
    const desk = VersionDesk.of(get(versionAtom))
    set(deskAtom, desk)
    set(standAtom, desk.snapshot())
  }, [get, set, id])
  useEffect(() => {
    const desk = get(deskAtom)
    const told = () => set(standAtom, desk.snapshot())
    told()
    const deaf = desk.subscribe(told)
    desk.open()
    return () => {
      deaf()
      desk.close()
    }
  }, [get, set, id])
  return store
}
