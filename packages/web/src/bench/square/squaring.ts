import { LensProfileSchema, type FoundBend, type Wanted } from '@dunkelkammer/core'
import {
  bendOf,
  findBend,
  findFringes,
  findLevel,
  findTurn,
  Superseded,
  type LensFinding,
  type Picture,
  type TracedLine,
} from '@dunkelkammer/engine/browser'
import { atom } from 'jotai'
import { api, sentence } from '../../api/client'
import { queryClient } from '../../api/queries'
import { theEngine } from '../../engine/engine'
import { developmentAtom, frameAtom, pictureAtom } from '../state/atoms'
import type { Bench } from '../state/types'
import { withStep } from '../steps/withStep'

/** What is being looked for in the picture. */
export const lookingAtom = atom<'level' | 'perspective' | 'fringes' | 'distortion' | 'profile' | undefined>(
  undefined,
)
/** Whether the picture can be asked. */
export const readyAtom = atom((get) => get(pictureAtom) !== undefined && get(lookingAtom) === undefined)
/** Edges that were marked as straight. */
export const markedAtom = atom<readonly TracedLine[]>([])
/** How straight the marked or found lines became. */
export const straightenedAtom = atom<FoundBend | undefined>(undefined)
/** What the file says of its taking. */
export const metadataAtom = atom((get) => get(pictureAtom)?.frame.metadata ?? get(frameAtom).metadata)
/** What is known of the lens. */
export const findingAtom = atom<LensFinding | undefined>(undefined)
/** Counts up whenever the profiles of lenses have changed. */
export const profilesAtom = atom(0)

/** Nothing is known of another picture. */
export function forgetFindings({ set }: Bench): void {
  set(markedAtom, [])
  set(straightenedAtom, undefined)
}

async function look(
  bench: Bench,
  what: 'level' | 'perspective' | 'fringes' | 'distortion' | 'profile',
  how: (picture: Picture) => Promise<void>,
): Promise<void> {
  const picture = bench.get(pictureAtom)
  if (!picture) return
  bench.set(lookingAtom, what)
  try {
    bench.say(undefined)
    await how(picture)
  } catch (error) {
    if (!(error instanceof Superseded)) bench.say(sentence(error))
  } finally {
    bench.set(lookingAtom, undefined)
  }
}

function bendByHand({ set, adjust }: Bench, found: FoundBend, label: string): void {
  const { bend, edge } = found
  set(straightenedAtom, found)
  adjust((d) => withStep(d, 'lens', { choice: 'hand', distortion: 1, bend, edge }), label)
}

/** An edge was marked that should be straight. */
export function markEdge(bench: Bench, line: TracedLine): void {
  const { get, set } = bench
  const picture = get(pictureAtom)
  if (!picture) return
  set(markedAtom, (lines) => [...lines, line])
  bendByHand(bench, bendOf(picture, get(markedAtom)), 'Distortion from marked lines')
}

/** All marked edges are taken away, and the distortion that came of them. */
export function unmarkEdges(bench: Bench): void {
  forgetFindings(bench)
  bench.adjust((d) => withStep(d, 'lens', { bend: 0, edge: 0 }), 'Marked lines removed')
}

export const levelByLines = (bench: Bench) =>
  look(bench, 'level', async (picture) => {
    const angle = await findLevel(picture, bench.get(developmentAtom))
    bench.adjust((d) => withStep(d, 'level', { angle }), 'Levelled automatically', undefined, {
      found: ['level'],
    })
  })

export const turnByLines = (bench: Bench, wanted: Wanted) =>
  look(bench, 'perspective', async (picture) => {
    const found = await findTurn(picture, bench.get(developmentAtom), wanted)
    bench.adjust(
      (d) => withStep(withStep(d, 'level', { angle: 0 }), 'perspective', { ...found, guides: [] }),
      'Perspective corrected automatically',
    )
  })

export const measureFringes = (bench: Bench) =>
  look(bench, 'fringes', async (picture) => {
    const found = await findFringes(picture)
    bench.adjust(
      (d) => withStep(d, 'fringes', { source: 'own', ...found }),
      'Fringes measured in the picture',
    )
  })

export const bendByLines = (bench: Bench) =>
  look(bench, 'distortion', async (picture) => {
    const found = await findBend(picture, bench.get(developmentAtom))
    bench.set(markedAtom, [])
    bendByHand(bench, found, 'Distortion from detected lines')
  })

/** Keeps the distortion set by hand as a profile of this frame's lens. */
export const keepProfile = (bench: Bench, name: string) =>
  look(bench, 'profile', async (picture) => {
    const { lens } = bench.get(developmentAtom).steps
    const { focalLength = 50, focalLength35, make = '' } = picture.frame.metadata
    const { width, height } = picture
    const profile = LensProfileSchema.parse({
      maker: make,
      model: name.trim(),
      crop: focalLength35 ? focalLength35 / focalLength : 1,
      aspect: Math.max(width, height) / Math.min(width, height),
      distortion: [{ focal: focalLength, kind: 'radial', terms: [lens.bend, lens.edge] }],
    })
    const { id } = await api.addLens(profile)
    await queryClient.invalidateQueries({ queryKey: ['lenses'] })
    const engine = await theEngine()
    engine.forgetLenses()
    bench.set(profilesAtom, (n) => n + 1)
    bench.adjust((d) => withStep(d, 'lens', { choice: 'profile', profile: id }), 'Lens profile saved')
  })
