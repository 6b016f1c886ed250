import { LensProfileSchema, type Development, type FoundBend, type Wanted } from '@dunkelkammer/core'
import {
  bendOf,
  findBend,
  findFringes,
  findLevel,
  findTurn,
  Superseded,
  type Picture,
  type TracedLine,
} from '@dunkelkammer/engine/browser'
import { useEffect, useMemo, useState } from 'react'
import { api, sentence } from '../../api/client'
import { queryClient } from '../../api/queries'
import { withStep } from '../steps/props'
import { useEvent } from '../state/useEvent'

/** What can be asked of the picture itself while squaring up. */
export interface Squaring {
  /** What is being looked for. */
  busy?: 'level' | 'perspective' | 'fringes' | 'distortion' | 'profile'
  ready: boolean
  level(): unknown
  turn(wanted: Wanted): unknown
  fringes(): unknown
  bend(): unknown
  /** Edges that were marked as straight. */
  marked: readonly TracedLine[]
  mark(line: TracedLine): void
  unmark(): void
  /** How straight the marked or found lines became, in pixels of the picture. */
  found?: FoundBend
  /** Keeps the distortion set by hand as a profile of this frame's lens. */
  keep(name: string): unknown
  /** Name of the profile that was kept. */
  kept?: string
}

export function useSquaring(parts: {
  picture: Picture | undefined
  development(): Development
  adjust(change: (d: Development) => Development, label: string, gesture?: string): void
  say(problem: string | undefined): void
  /** Profiles have changed. */
  onProfiles(): void
}): Squaring {
  const { picture, development, adjust, say, onProfiles } = parts
  const [busy, setBusy] = useState<Squaring['busy']>()
  const [marked, setMarked] = useState<readonly TracedLine[]>([])
  const [found, setFound] = useState<FoundBend>()
  const [kept, setKept] = useState<string>()
  useEffect(() => {
    setMarked([])
    setFound(undefined)
    setKept(undefined)
  }, [picture])
  const look = async (what: NonNullable<Squaring['busy']>, how: (p: Picture) => Promise<void>) => {
    if (!picture) return
    setBusy(what)
    try {
      say(undefined)
      await how(picture)
    } catch (error) {
      if (!(error instanceof Superseded)) say(sentence(error))
    } finally {
      setBusy(undefined)
    }
  }
  const byHand = (bent: FoundBend, label: string) => {
    const { bend, edge } = bent
    setFound(bent)
    setKept(undefined)
    adjust((d) => withStep(d, 'lens', { choice: 'hand', distortion: 1, bend, edge }), label)
  }
  useEffect(() => {
    if (picture && marked.length) byHand(bendOf(picture, marked), 'Distortion from marked lines')
  }, [marked])
  const mark = useEvent((line: TracedLine) => setMarked((lines) => [...lines, line]))
  const unmark = useEvent(() => {
    setMarked([])
    setFound(undefined)
    adjust((d) => withStep(d, 'lens', { bend: 0, edge: 0 }), 'Marked lines taken away')
  })
  const level = useEvent(() =>
    look('level', async (p) => {
      const angle = await findLevel(p, development())
      adjust((d) => withStep(d, 'level', { angle }), 'Levelled by its lines')
    }),
  )
  const turn = useEvent((wanted: Wanted) =>
    look('perspective', async (p) => {
      const found = await findTurn(p, development(), wanted)
      adjust(
        (d) => withStep(withStep(d, 'level', { angle: 0 }), 'perspective', { ...found, guides: [] }),
        'Perspective by its lines',
      )
    }),
  )
  const fringes = useEvent(() =>
    look('fringes', async (p) => {
      const found = await findFringes(p)
      adjust((d) => withStep(d, 'fringes', { source: 'own', ...found }), 'Fringes by the picture')
    }),
  )
  const bend = useEvent(() =>
    look('distortion', async (p) => {
      const bent = await findBend(p, development())
      setMarked([])
      byHand(bent, 'Distortion by its lines')
    }),
  )
  const keep = useEvent((name: string) =>
    look('profile', async (p) => {
      const { lens } = development().steps
      const { focalLength = 50, focalLength35, make = '' } = p.frame.metadata
      const { width, height } = p
      const profile = LensProfileSchema.parse({
        maker: make,
        model: name.trim(),
        crop: focalLength35 ? focalLength35 / focalLength : 1,
        aspect: Math.max(width, height) / Math.min(width, height),
        distortion: [{ focal: focalLength, kind: 'radial', terms: [lens.bend, lens.edge] }],
      })
      const { id, model } = await api.addLens(profile)
      await queryClient.invalidateQueries({ queryKey: ['lenses'] })
      onProfiles()
      setKept(model)
      adjust((d) => withStep(d, 'lens', { choice: 'profile', profile: id }), 'Profile kept')
    }),
  )
  const ready = picture !== undefined && busy === undefined
  return useMemo(
    () => ({ busy, ready, level, turn, fringes, bend, marked, mark, unmark, found, keep, kept }),
    [busy, ready, marked, found, kept, level, turn, fringes, bend, mark, unmark, keep],
  )
}
