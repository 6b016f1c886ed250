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
import { fitLongEdge, type Picture } from '@dunkelkammer/engine/browser'
import { useEffect, useMemo, useState } from 'react'
import { api, sentence } from '../../api/client'
import { queryClient, useLooks } from '../../api/queries'
import { withStep } from '../steps/props'
import { embeddedPixels } from '../picture/embeddedPixels'
import { withLook, type Offer } from './offers'

/** Long edge at which the camera's picture and ours are compared. */
const COMPARED = 256
const TABLE = 33

/** Parts of a development that a look is made of, where they depart from the start. */
export function recipeOf(d: Development): Recipe {
  const parts = Object.keys(RecipeSchema.shape) as (keyof Recipe)[]
  return Object.fromEntries(parts.filter((id) => !d.off.includes(id)).map((id) => [id, d.steps[id]]))
}

/** Looks that belong to this frame or this library, and what can be done with looks. */
export function useOffers(
  open: boolean,
  picture: Picture | undefined,
  development: () => Development,
  previewUrl: string | undefined,
) {
  const { data: looks } = useLooks()
  const [fitted, setFitted] = useState<Recipe>()
  const [problem, setProblem] = useState<string>()
  useEffect(() => setFitted(undefined), [picture])
  useEffect(() => {
    if (!open || !picture || !previewUrl || fitted) return
    const stop = new AbortController()
    const fit = async () => {
      const size = fitLongEdge(picture.width, picture.height, COMPARED)
      // the camera's picture shows all of the frame
      const plain = withoutStages(withoutSteps(development(), ['look']), ['square-up'])
      const region = { x: 0, y: 0, ...size }
      const [ours, theirs] = await Promise.all([
        picture.view({ development: plain, ...size, region }, stop.signal),
        embeddedPixels(previewUrl, size),
      ])
      if (!stop.signal.aborted) setFitted(fitLook(ours.rgba, theirs))
    }
    // without it the browser simply offers one look less
    fit().catch(() => undefined)
    return () => stop.abort()
  }, [open, picture, previewUrl, fitted])

  const rendering = picture?.frame.profile?.look || picture?.frame.profile?.toneCurve
  const offers = useMemo((): readonly Offer[] => {
    const out: Offer[] = []
    if (rendering)
      out.push({
        key: 'file',
        name: picture?.frame.profile?.name || 'The file’s rendering',
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
  }, [looks, fitted, rendering, picture])

  const act = async (what: () => Promise<void>) => {
    setProblem(undefined)
    try {
      await what()
    } catch (error) {
      setProblem(sentence(error))
    }
  }
  return {
    offers,
    problem,
    /** Takes .cube files into the library. */
    load: (files: readonly File[]) =>
      act(async () => {
        for (const file of files) {
          const text = await file.text()
          // said at once, before it is sent
          readCube(text)
          await api.addTable(file.name.replace(/\.cube$/i, ''), text)
        }
        await queryClient.invalidateQueries({ queryKey: ['looks'] })
      }),
    /** Keeps this development's colours as a look. */
    keep: (name: string) =>
      act(async () => {
        await api.addRecipe(name, recipeOf(development()))
        await queryClient.invalidateQueries({ queryKey: ['looks'] })
      }),
    /** Saves this development's colours as a .cube file. */
    save: (name: string) =>
      act(async () => {
        if (!picture) return
        const colours = await picture.table(development(), TABLE)
        const link = document.createElement('a')
        link.href = URL.createObjectURL(new Blob([writeCube({ title: name, size: TABLE, colours })]))
        link.download = `${name.replace(/[^\p{L}\p{N} ._-]/gu, '_')}.cube`
        link.click()
        URL.revokeObjectURL(link.href)
      }),
  }
}
