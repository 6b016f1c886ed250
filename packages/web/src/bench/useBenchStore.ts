import type { FramePage, ShootPage } from '@dunkelkammer/contract'
import { createStore } from 'jotai'
import { useEffect, useLayoutEffect, useState } from 'react'
import { useNavigate, useSearchParams } from 'react-router'
import { api } from '../api/client'
import { VersionDesk } from '../desk/versionDesk'
import { FEATURES } from './features'
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
  seenThroughAtom,
  shootAtom,
  squaredAtom,
  standAtom,
  versionAtom,
} from './state/atoms'
import { benchOf } from './state/bench'
import type { Store } from './state/types'

/** The place in an address, fractions of the picture. */
function placeIn(search: URLSearchParams) {
  const [x, y] = (search.get('at') ?? '').split(',').map(Number)
  return x >= 0 && y >= 0 && x <= 1 && y <= 1 ? { x, y } : undefined
}

/** All that parts of the bench read at once. */
function newStore(page: FramePage, shoot: ShootPage, search: URLSearchParams): Store {
  const store = createStore()
  const { get, set } = store
  const bench = benchOf(store)
  set(pageAtom, page)
  set(shootAtom, shoot)
  set(addressAtom, search)
  const at = placeIn(search)
  if (at) set(centreAtom, at)
  set(previewUrlAtom, page.frame.hasPreview ? api.previewUrl(page.frame.id) : undefined)
  const desk = VersionDesk.of(get(versionAtom))
  set(deskAtom, desk)
  set(standAtom, desk.snapshot())
  set(
    seenThroughAtom,
    FEATURES.flatMap(({ seeThrough }) => seeThrough ?? []),
  )
  set(commandsAtom, { list: () => FEATURES.flatMap(({ commands }) => commands?.(bench) ?? []) })
  set(squaredAtom, { development: get(developmentAtom), square: get(plainSquareAtom) })
  return store
}

/** The store of a bench: as long as its frame is there, told of what comes from outside. */
export function useBenchStore(page: FramePage, shoot: ShootPage): Store {
  const [search, setSearch] = useSearchParams()
  const navigate = useNavigate()
  const [store] = useState(() => newStore(page, shoot, search))
  const { get, set } = store
  useLayoutEffect(() => {
    set(pageAtom, page)
    set(shootAtom, shoot)
    set(addressAtom, search)
  }, [set, page, shoot, search])
  useLayoutEffect(() => {
    set(routesAtom, {
      link: (part) =>
        setSearch(
          (now) => {
            for (const [k, v] of Object.entries(part)) {
              if (v === undefined) now.delete(k)
              else now.set(k, v)
            }
            return now
          },
          { replace: true },
        ),
      go: (path) => void navigate(path),
    })
  }, [set, setSearch, navigate])
  // a version's own saves come back as new data; only another version needs another desk
  const { versions } = page
  const { id } = versions.find((v) => v.id === search.get('version')) ?? versions[0]
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
