import type { FramePage, ShootPage } from '@dunkelkammer/contract'
import {
  Square,
  squareSettings,
  startDevelopment,
  withoutStages,
  type Development,
  type StageId,
} from '@dunkelkammer/core'
import { atom, type Atom, type PrimitiveAtom } from 'jotai'
import { selectAtom } from 'jotai/utils'
import type { Command } from '../../commands/commands'
import type { DeskState, VersionDesk } from '../../desk/versionDesk'
import { layOutView, sameGeometry, type Geometry, type Pane, type Zoom } from '../picture/geometry'
import { SURROUND_IDS, type Surround } from '../picture/surround'
import type { Opening } from '../picture/usePicture'
import { isOpenStage } from './stages'
import { withStep } from '../steps/withStep'
import { storedAtom } from './stored'
import type { Place, ToolKind } from './types'

interface Size {
  width: number
  height: number
}

/** Filled by the bench before anything reads it. */
const given = <T>(): PrimitiveAtom<T> => atom(undefined as T) as PrimitiveAtom<T>

// what is on the bench

export const pageAtom = given<FramePage>()
export const shootAtom = given<ShootPage>()
export const frameAtom = atom((get) => get(pageAtom).frame)
/** The query of the page's address. */
export const addressAtom = given<URLSearchParams>()
/** Changes parts of the address, and goes to other pages. */
export const routesAtom = given<{
  link(part: Readonly<Record<string, string | undefined>>): void
  go(path: string): void
}>()
export const versionAtom = atom((get) => {
  const { versions } = get(pageAtom)
  return versions.find((v) => v.id === get(addressAtom).get('version')) ?? versions[0]
})
export const deskAtom = given<VersionDesk>()
export const standAtom = given<DeskState>()
export const developmentAtom = atom((get) => get(standAtom).development)
export const pinsAtom = atom((get) => get(standAtom).pins)
/** Address of the picture that the camera put into the file. */
export const previewUrlAtom = atom<string | undefined>(undefined)

/** How far the opening of the picture has come. */
export const openingAtom = atom<Opening>({ label: 'Loading the original' })
export const pictureAtom = atom((get) => get(openingAtom).picture)
/** Counts up whenever the user asks for another attempt at opening it. */
export const attemptAtom = atom(0)

// where the user is

export const stageAtom = atom((get): StageId => {
  const stage = get(addressAtom).get('stage')
  return isOpenStage(stage) ? stage : 'expose'
})
/** Whether the own drawer lies open in place of that of the stage. */
export const ownDrawerAtom = atom((get) => get(addressAtom).get('drawer') === 'own')
/** How large the picture is shown. The address follows once it rests. */
export const zoomAtom = atom<Zoom>('fit')
const MIDDLE: Place = { x: 0.5, y: 0.5 }
/** Place of the picture in the middle of the pane, where it is zoomed. */
export const centreAtom = atom<Place>(MIDDLE)
export const paneAtom = atom<Pane | undefined>(undefined)
export const surroundAtom = storedAtom<Surround>('surround', 'grey', SURROUND_IDS)
/** Nothing but the picture is shown. */
export const bareAtom = atom(false)
export const dialogAtom = atom<'deliver' | 'keys' | 'palette' | 'variants' | 'copy' | 'preset' | undefined>(
  undefined,
)

/** What can be done by key or by name, as things stand. */
export const commandsAtom = given<{ list(): readonly Command[] }>()
/** Whether looks are being chosen. */
export const looksOpenAtom = atom(false)

/** The tool in the hand, and what it has to say. */
export const toolAtom = atom<ToolKind | undefined>(undefined)
export const toolProblemAtom = atom<string | undefined>(undefined)
/** A line while it is drawn, in fractions of the frame. */
export const drawnAtom = atom<{ from: Place; to: Place } | undefined>(undefined)
/** Movements of controls so far. */
export const movementsAtom = atom(0)

// what is seen

/** Stages that the picture is looked at without. */
export const heldOffAtom = atom<readonly StageId[]>([])
/** Shown in place of the development while something is only tried. */
export const trialAtom = atom<Development | undefined>(undefined)
/** What patches are shown filled with while something better is found for them, by their ids. */
export const firstLooksAtom = atom<ReadonlyMap<string, string>>(new Map())
function withFirstLooks(d: Development, looks: ReadonlyMap<string, string>): Development {
  if (looks.size === 0) return d
  const patches = d.steps.patches.patches.map((p) => ({ ...p, filled: looks.get(p.id) ?? p.filled }))
  return withStep(d, 'patches', { patches })
}
/** The development as it is looked at. */
export const shownAtom = atom((get) =>
  withoutStages(
    withFirstLooks(get(trialAtom) ?? get(developmentAtom), get(firstLooksAtom)),
    get(heldOffAtom),
  ),
)
/** The tool in the hand wants all of the picture, and the frame on it. */
export const framingAtom = atom((get) => get(toolAtom)?.whole === true)
const withoutFrame = (d: Development) => withStep(d, 'crop', { rect: null, inside: false })
export const seenAtom = atom((get) => (get(framingAtom) ? withoutFrame(get(shownAtom)) : get(shownAtom)))

/** Pixels of the picture before it is squared up. */
export const sizeAtom = atom((get) => {
  const { width, height } = get(frameAtom)
  return { width, height }
})
/** What a development shows where nothing has been set. */
export const plainSquareAtom = atom(
  (get) => new Square(get(sizeAtom), squareSettings(startDevelopment()), undefined),
)
/** What is seen, and what of the picture it shows. */
export const squaredAtom = given<{ development: Development; square: Square; problem?: string }>()
export const squareAtom = atom((get) => get(squaredAtom).square)
/** What is shown of the picture once the frame is set. */
export const framedAtom = atom(
  (get) => (get(framingAtom) && get(pictureAtom)?.squareNow(get(shownAtom))) || get(squareAtom),
)
const sameSize = (a: Size, b: Size) => a.width === b.width && a.height === b.height
/** Pixels of the finished picture. */
export const finishedAtom = selectAtom(squareAtom, (square): Size => square.finished, sameSize)

/** A geometry, another one only where it differs. */
const steady = (laidOut: Atom<Geometry | undefined>) =>
  selectAtom(
    laidOut,
    (g) => g,
    (a, b) => a === b || (a !== undefined && b !== undefined && sameGeometry(a, b)),
  )
/** What of the picture is on the screen, and where. */
export const geometryAtom = steady(
  atom((get) => {
    const pane = get(paneAtom)
    return pane && layOutView(get(finishedAtom), pane, get(zoomAtom), get(centreAtom))
  }),
)
/** The whole picture in the pane. */
export const fitAtom = steady(
  atom((get) => {
    const pane = get(paneAtom)
    return pane && layOutView(get(finishedAtom), pane, 'fit', MIDDLE)
  }),
)
