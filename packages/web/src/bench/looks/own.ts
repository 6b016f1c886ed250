import {
  fitLook,
  readCube,
  RecipeSchema,
  withoutStages,
  withoutSteps,
  writeCube,
  type Development,
  type Recipe,
} from '@dunkelkammer/core'
import { fitLongEdge } from '@dunkelkammer/engine/browser'
import { atom, useAtomValue } from 'jotai'
import { useEffect, useMemo } from 'react'
import { api, sentence } from '../../api/client'
import { queryClient, useLooks } from '../../api/queries'
import { profileAtom } from '../steps/props'
import { developmentAtom, looksOpenAtom, pictureAtom, previewUrlAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import type { Bench } from '../state/types'
import { withStep } from '../steps/withStep'
import { embeddedPixels } from '../picture/embeddedPixels'
import { withLook, type LookOffer } from './offers'

/** Long edge at which the camera's picture and ours are compared. */
const COMPARED = 256
const TABLE = 33

/** Parts of a development that a look is made of, where they depart from the start. */
export function recipeOf(d: Development): Recipe {
  const parts = Object.keys(RecipeSchema.shape) as (keyof Recipe)[]
  return Object.fromEntries(parts.filter((id) => !d.off.includes(id)).map((id) => [id, d.steps[id]]))
}

/** A look fitted to the picture that the camera put into the file. */
const fittedAtom = atom<Recipe | undefined>(undefined)
/** What keeps looks from being kept, loaded or saved. */
export const problemAtom = atom<string | undefined>(undefined)

/** Fits a look to the camera's picture while looks are being chosen; without it the list is one shorter. */
export function LookFitter() {
  const { get, set } = useBench()
  const open = useAtomValue(looksOpenAtom)
  const picture = useAtomValue(pictureAtom)
  const url = useAtomValue(previewUrlAtom)
  const fitted = useAtomValue(fittedAtom)
  useEffect(() => set(fittedAtom, undefined), [set, picture])
  useEffect(() => {
    if (!open || !picture || !url || fitted) return
    const stop = new AbortController()
    const fit = async () => {
      const size = fitLongEdge(picture.width, picture.height, COMPARED)
      // the camera's picture shows all of the frame
      const plain = withoutStages(withoutSteps(get(developmentAtom), ['look']), ['square-up'])
      const region = { x: 0, y: 0, ...size }
      const [ours, theirs] = await Promise.all([
        picture.view({ development: plain, ...size, region }, stop.signal),
        embeddedPixels(url, size),
      ])
      if (!stop.signal.aborted) set(fittedAtom, fitLook(ours.rgba, theirs))
    }
    fit().catch(() => undefined)
    return () => stop.abort()
  }, [get, set, open, picture, url, fitted])
  return null
}

/** Looks that belong to this frame or this library. */
export function useOwnOffers(): readonly LookOffer[] {
  const { data: looks } = useLooks()
  const fitted = useAtomValue(fittedAtom)
  const profile = useAtomValue(profileAtom)
  return useMemo((): readonly LookOffer[] => {
    const out: LookOffer[] = []
    if (profile?.look || profile?.toneCurve)
      out.push({
        key: 'file',
        name: profile.name || 'The file’s rendering',
        about: 'As the maker meant it',
        group: 'This frame',
        chosen: (d) => d.steps.baseRendering.rendering === 'file',
        apply: (d) => withStep(d, 'baseRendering', { rendering: 'file' }),
      })
    if (fitted)
      out.push({
        key: 'fitted',
        name: 'Like the camera',
        about: 'Fitted to its picture',
        group: 'This frame',
        apply: (d) => withLook(d, { kind: 'recipe', id: 'fitted', name: 'Like the camera', recipe: fitted }),
      })
    for (const l of looks ?? [])
      out.push({
        key: l.id,
        name: l.name,
        about: l.kind === 'table' ? 'Table of colours' : 'Made here',
        group: 'Your own',
        remove: async () => {
          await api.removeLook(l.id)
          await queryClient.invalidateQueries({ queryKey: ['looks'] })
        },
        apply: (d) => withLook(d, { kind: l.kind, id: l.id, name: l.name, recipe: l.recipe }),
      })
    return out
  }, [looks, fitted, profile])
}

async function attempt({ set }: Bench, what: () => Promise<void>): Promise<void> {
  set(problemAtom, undefined)
  try {
    await what()
  } catch (error) {
    set(problemAtom, sentence(error))
  }
}

/** Takes .cube files into the library. */
export const loadTables = (bench: Bench, files: readonly File[]) =>
  attempt(bench, async () => {
    for (const file of files) {
      const text = await file.text()
      // said at once, before it is sent
      readCube(text)
      await api.addTable(file.name.replace(/\.cube$/i, ''), text)
    }
    await queryClient.invalidateQueries({ queryKey: ['looks'] })
  })

/** Keeps this development's colours as a look. */
export const keepLook = (bench: Bench, name: string) =>
  attempt(bench, async () => {
    await api.addRecipe(name, recipeOf(bench.get(developmentAtom)))
    await queryClient.invalidateQueries({ queryKey: ['looks'] })
  })

/** Saves this development's colours as a .cube file. */
export const saveTable = (bench: Bench, name: string) =>
  attempt(bench, async () => {
    const picture = bench.get(pictureAtom)
    if (!picture) return
    const colours = await picture.ask('table', bench.get(developmentAtom), TABLE)
    const link = document.createElement('a')
    link.href = URL.createObjectURL(new Blob([writeCube({ title: name, size: TABLE, colours })]))
    link.download = `${name.replace(/[^\p{L}\p{N} ._-]/gu, '_')}.cube`
    link.click()
    URL.revokeObjectURL(link.href)
  })
