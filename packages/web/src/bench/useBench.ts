import type { FramePage, ShootPage } from '@dunkelkammer/contract'
import { type Development, type StageId, type Triple, withoutStages } from '@dunkelkammer/core'
import { useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore } from 'react'
import { useNavigate, useSearchParams } from 'react-router'
import { api } from '../api/client'
import { sheetSearch, useSheet } from '../sheet/useSheet'
import { useClipping } from './clipping/Clipping'
import { type Reference, referenceKey, UNTOUCHED } from './before/reference'
import { useReference } from './before/useReference'
import { VersionDesk } from '../desk/versionDesk'
import { withStep } from './steps/props'
import type { HuePart } from './balance/HueSection'
import type { Masked } from './refine/props'
import { useSoftness } from './refine/useSoftness'
import { GUIDE_KINDS, type GuideKind, type Outside, OUTSIDES } from './square/CropFrame'
import { layOutView, type Pane, type Zoom } from './picture/geometry'
import { READING_KINDS, type ReadingKind, useReadings } from './readings/Readings'
import { isOpenStage, STAGE_LIST } from './layout/stages'
import { stripFrames } from '../sheet/stripFrames'
import { RAIL_SCALES, type RailScale } from './tone/ToneRail'
import type { Place, ToolId } from './state/tools'
import { useAutomatic } from './expose/useAutomatic'
import { useEvent } from './state/useEvent'
import { useCurveLine } from './expose/useCurveLine'
import { useHues } from './balance/useHues'
import { useOffers } from './looks/useOffers'
import { usePictureTool } from './usePictureTool'
import { useLensFinding, useSquared } from './picture/useSquared'
import { useSquaring } from './square/useSquaring'
import { useStored } from '../shell/useStored'
import { useCameraMatch } from './expose/useCameraMatch'
import { usePicture } from './picture/usePicture'
import { useVersions } from './versions/useVersions'
import { useViews } from './picture/useViews'
import { type Surround, SURROUND_IDS } from './picture/surround'

type Dialogs = 'deliver' | 'keys' | 'palette'

const readZoom = (text: string | null): Zoom => (text === '100' ? 1 : text === '200' ? 2 : 'fit')

/** What the bench is made of: the version that is developed, its picture, and all that is chosen around it. */
export function useBench(page: FramePage, shoot: ShootPage) {
  const { frame, versions } = page
  const [search, setSearch] = useSearchParams()
  const navigate = useNavigate()
  const version = versions.find((v) => v.id === search.get('version')) ?? versions[0]
  const desk = useDesk(version)
  const deskState = useSyncExternalStore(desk.subscribe, desk.snapshot)
  const { development, undoes, redoes, saving, problem: saveProblem, aside, pins } = deskState

  const stage: StageId = isOpenStage(search.get('stage')) ? (search.get('stage') as StageId) : 'expose'
  const zoom = readZoom(search.get('zoom'))
  const [centre, setCentre] = useState(() => {
    const [x, y] = (search.get('at') ?? '').split(',').map(Number)
    return x >= 0 && y >= 0 && x <= 1 && y <= 1 ? { x, y } : { x: 0.5, y: 0.5 }
  })
  const link = useCallback(
    (part: Record<string, string | undefined>) =>
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
    [setSearch],
  )
  // the place goes into the address once it rests
  useEffect(() => {
    if (zoom === 'fit') return
    const timer = setTimeout(() => link({ at: `${centre.x.toFixed(4)},${centre.y.toFixed(4)}` }), 300)
    return () => clearTimeout(timer)
  }, [centre, zoom, link])

  // the strip is the sheet, narrowed down and in the same order
  const { stacks } = useSheet(frame.shootId)
  const strip = useMemo(() => stripFrames(stacks, frame.id), [stacks, frame.id])
  const carried = sheetSearch(search)
  const stripSearch = (() => {
    const out = new URLSearchParams(carried)
    out.set('stage', stage)
    return out.toString()
  })()

  const sideBySide = (ids: readonly string[]) => {
    const to = new URLSearchParams(carried)
    to.set('frames', ids.map((id) => `${frame.id}:${id}`).join(','))
    return `/shoots/${frame.shootId}/compare?${to.toString()}`
  }
  const others = versions.filter((v) => v !== version).map((v) => v.id)
  const compareLink = sideBySide([version.id, ...others].slice(0, 4))
  const {
    actions: versionActions,
    problem: versionProblem,
    forget: forgetVersionProblem,
  } = useVersions(page, version, desk, (id) => link({ version: id }), sideBySide)

  const [attempt, setAttempt] = useState(0)
  const opening = usePicture(frame.id, attempt)
  const { picture } = opening
  const camera = picture?.frame.colour
  const previewUrl = frame.hasPreview ? api.previewUrl(frame.id) : undefined
  const cameraMatch = useCameraMatch(previewUrl, picture, desk)

  const [pane, setPane] = useState<Pane>()
  const [surround, setSurround] = useStored<Surround>('surround', 'grey', SURROUND_IDS)
  const [dialog, setDialog] = useState<Dialogs>()
  /** Stages that the picture is looked at without. */
  const [heldOff, setHeldOff] = useState<readonly StageId[]>([])
  const [bare, setBare] = useState(false)
  const [before, setBefore] = useState(false)
  const [beside, setBeside] = useState(false)
  const [held, setTool] = useState<ToolId>()
  const [toolProblem, setToolProblem] = useState<string>()
  const take = useCallback((next: ToolId | undefined) => {
    setToolProblem(undefined)
    setTool(next)
  }, [])
  const clipping = useClipping()
  const movedNow = useRef(clipping.moved)
  movedNow.current = clipping.moved
  const [railScale, setRailScale] = useStored<RailScale>('rail', 'stops', RAIL_SCALES)
  const [reading, setReading] = useStored<ReadingKind>('reading', 'output', READING_KINDS)
  const [readings, setReadings] = useStored('readings', 'off', ['on', 'off'])
  const [pointer, setPointer] = useState<Place>()
  const [looks, setLooks] = useState(false)
  /** Shown in place of the development while something is only tried. */
  const [trial, setTrial] = useState<Development>()
  const [line] = useCurveLine()
  const [node, setNode] = useState(0)
  const [huePart, setHuePart] = useState<HuePart>('colour')
  const [showingNode, setShowingNode] = useState(false)

  const [grid, setGrid] = useStored('grid', 'off', ['on', 'off'])
  const [guides, setGuides] = useStored<GuideKind>('guides', 'thirds', GUIDE_KINDS)
  const [outside, setOutside] = useStored<Outside>('outside', 'dimmed', OUTSIDES)
  const [fresh, setFresh] = useState(0)
  const [mask, setMask] = useState<Masked>()
  const [divider, setDivider] = useState<number>()
  const [spot, setSpot] = useState<Place>({ x: 0.5, y: 0.5 })
  const [spotOpen, setSpotOpen] = useStored('spot', 'open', ['open', 'closed'])
  const [variants, setVariants] = useState(false)
  const [reference, setReference] = useState<Reference>(UNTOUCHED)
  const [history, setHistory] = useStored('history', 'closed', ['open', 'closed'])
  // asked once a session: who said no need not say it again
  const [offered, setOffered] = useState(() => sessionStorage.getItem('offered full size') !== null)

  const size = useMemo(() => ({ width: frame.width, height: frame.height }), [frame])
  const selecting = showingNode && stage === 'balance'
  const shown = useMemo(() => {
    const base = withoutStages(trial ?? development, heldOff)
    return selecting ? withStep(base, 'hueNodes', { show: node }) : base
  }, [trial, development, heldOff, selecting, node])
  // while the frame is set all of the picture is seen
  const framing = held === 'crop' && stage === 'square-up'
  const seen = useMemo(
    () => (framing ? withStep(shown, 'crop', { rect: null, inside: false }) : shown),
    [shown, framing],
  )
  const squared = useSquared(picture, seen, size)
  const { square } = squared
  const framed = (framing && picture?.squareNow(shown)) || square
  const { width: fullWidth, height: fullHeight } = square.finished
  const geometry = useMemo(
    () => pane && layOutView({ width: fullWidth, height: fullHeight }, pane, zoom, centre),
    [fullWidth, fullHeight, pane, zoom, centre],
  )
  const fit = useMemo(
    () => pane && layOutView({ width: fullWidth, height: fullHeight }, pane, 'fit', { x: 0.5, y: 0.5 }),
    [fullWidth, fullHeight, pane],
  )
  const comparing = before || divider !== undefined || (beside && reference.kind !== 'camera')
  const compared = useReference(comparing, reference, desk, versions, squared.development)
  const views = useViews({
    picture,
    geometry,
    fit,
    development: squared.development,
    before: compared,
    mask: stage === 'refine' ? mask : undefined,
    waveform: railScale === 'waveform',
    layers: clipping.shown,
    highFrom: clipping.highFrom,
    lowTo: clipping.lowTo,
  })

  const setZoom = useCallback(
    (next: Zoom, at?: { x: number; y: number }) => {
      if (at) setCentre(at)
      link({ zoom: next === 'fit' ? undefined : String(next * 100), at: undefined })
    },
    [link],
  )
  const pan = useCallback(
    (dx: number, dy: number) => {
      if (!geometry || !pane) return
      const hold = (v: number, full: number, room: number) => {
        const half = Math.min(room / 2 / (full * geometry.pixel), 0.5)
        return Math.min(Math.max(v, half), 1 - half)
      }
      setCentre((c) => ({
        x: hold(c.x - dx / (geometry.width * geometry.pixel), geometry.width, pane.width),
        y: hold(c.y - dy / (geometry.height * geometry.pixel), geometry.height, pane.height),
      }))
    },
    [geometry, pane],
  )
  const adjust = useCallback<VersionDesk['adjust']>(
    (change, label, gesture) => {
      if (gesture) movedNow.current()
      desk.adjust(change, label, gesture)
    },
    [desk],
  )
  const squaring = useSquaring({
    picture,
    development: () => desk.development,
    adjust,
    say: setToolProblem,
    onProfiles: () => {
      picture?.forgetLenses()
      setFresh((n) => n + 1)
    },
  })
  const finding = useLensFinding(picture, development, fresh)
  const { tool, curveMark, drawn } = usePictureTool({
    tool: held,
    picture,
    square,
    mark: squaring.mark,
    coarse: geometry ? square.width / geometry.width : 1,
    development: () => desk.development,
    adjust,
    endGesture: desk.endGesture,
    line,
    huePart,
    chooseNode: setNode,
    setSpot,
    say: setToolProblem,
    leave: () => take(undefined),
    pins,
    setPins: (next) => desk.setPins(next),
  })
  const { under, pinned } = useReadings(
    readings === 'on' ? picture : undefined,
    squared.development,
    readings === 'on' ? pointer : undefined,
    pins,
  )
  const own = useOffers(looks, picture, () => desk.development, previewUrl)
  const hues = useHues(picture, development, stage === 'balance')
  const auto = useAutomatic(picture, desk, setToolProblem)
  const softness = useSoftness(picture, () => desk.development, adjust)
  const noise = useMemo(() => picture?.noise(development), [picture, development.steps.noise.source])
  const chooseStage = (id: StageId) => {
    take(undefined)
    setMask(undefined)
    link({ stage: id })
  }
  /** The frame is set on the whole picture. */
  const takeFor = useEvent((next: ToolId | undefined) => {
    if (next === 'crop') link({ zoom: undefined, at: undefined })
    take(next)
  })
  const hold = (id: StageId) => {
    setHeldOff((now) => (now.includes(id) ? now.filter((h) => h !== id) : [...now, id]))
  }
  const step = (by: number) => {
    const at = strip.findIndex((f) => f.id === frame.id) + by
    if (strip[at]) void navigate(`/shoots/${frame.shootId}/frames/${strip[at].id}?${stripSearch}`)
  }

  const railHands = useMemo(() => ({ adjust, endGesture: desk.endGesture }), [adjust, desk])
  const cameraGeometry = square.plain || !pane ? geometry : layOutView(size, pane, 'fit', { x: 0.5, y: 0.5 })
  const references = useMemo((): readonly Reference[] => {
    const named = desk.entries().filter((e) => e.name !== undefined)
    const all: Reference[] = [
      UNTOUCHED,
      ...(previewUrl ? [{ kind: 'camera' } as const] : []),
      ...versions
        .filter((v) => v.id !== version.id)
        .map((v) => ({ kind: 'version', id: v.id, called: v.name }) as const),
      ...named.map((e) => ({ kind: 'entry', place: e.id, called: e.name! }) as const),
    ]
    const known = all.some((r) => referenceKey(r) === referenceKey(reference))
    return known ? all : [...all, reference]
  }, [desk, deskState, previewUrl, versions, version.id, reference])
  const rail = zoom === 'fit' ? views.main?.view : (views.whole?.view ?? views.main?.view)
  const drawerProps = {
    development,
    camera,
    profile: picture?.frame.profile,
    adjust,
    endGesture: desk.endGesture,
    tool: held,
    take,
  }
  const tryNeutral = useEvent((neutral: Triple | undefined) =>
    setTrial(
      neutral &&
        withStep(development, 'cameraColour', {
          source: 'sample',
          neutral: neutral as [number, number, number],
        }),
    ),
  )
  const whiteAlone = useEvent(() => void auto.run?.(['white'], 1))
  const openLooks = useEvent(() => setLooks(true))
  const stageChosen = useEvent(chooseStage)
  const stageHeld = useEvent(hold)
  const versionLink = useEvent((id: string) => {
    const to = new URLSearchParams(search)
    to.set('version', id)
    return `?${to.toString()}`
  })
  const finished = useMemo(() => ({ width: fullWidth, height: fullHeight }), [fullWidth, fullHeight])
  const compareVariants = useEvent(() => setVariants(picture !== undefined))
  const answerOffer = (full: boolean) => {
    sessionStorage.setItem('offered full size', 'yes')
    setOffered(true)
    if (full) setZoom(1, spot)
  }
  const stageName = STAGE_LIST.find((s) => s.id === stage)!.name
  const closeDialog = () => setDialog(undefined)
  return {
    railHands,
    drawerProps,
    page,
    shoot,
    version,
    desk,
    deskState,
    stage,
    zoom,
    link,
    strip,
    carried,
    stripSearch,
    compareLink,
    opening,
    previewUrl,
    cameraMatch,
    take,
    clipping,
    size,
    shown,
    framing,
    squared,
    framed,
    geometry,
    compared,
    views,
    setZoom,
    pan,
    adjust,
    squaring,
    finding,
    own,
    hues,
    auto,
    softness,
    noise,
    chooseStage,
    takeFor,
    step,
    cameraGeometry,
    references,
    rail,
    tryNeutral,
    whiteAlone,
    openLooks,
    stageChosen,
    stageHeld,
    versionLink,
    finished,
    compareVariants,
    answerOffer,
    stageName,
    closeDialog,
    frame,
    search,
    development,
    undoes,
    redoes,
    saving,
    saveProblem,
    aside,
    pins,
    centre,
    versionActions,
    versionProblem,
    forgetVersionProblem,
    setAttempt,
    picture,
    setPane,
    surround,
    setSurround,
    dialog,
    setDialog,
    heldOff,
    bare,
    setBare,
    before,
    setBefore,
    beside,
    setBeside,
    held,
    toolProblem,
    railScale,
    setRailScale,
    reading,
    setReading,
    readings,
    setReadings,
    pointer,
    setPointer,
    looks,
    setLooks,
    setTrial,
    line,
    node,
    setNode,
    huePart,
    setHuePart,
    showingNode,
    setShowingNode,
    grid,
    setGrid,
    guides,
    setGuides,
    outside,
    setOutside,
    mask,
    setMask,
    divider,
    setDivider,
    spot,
    setSpot,
    spotOpen,
    setSpotOpen,
    variants,
    setVariants,
    reference,
    setReference,
    history,
    setHistory,
    offered,
    square,
    tool,
    curveMark,
    drawn,
    under,
    pinned,
  }
}

/** All of it, for the parts of the bench. */
export type BenchParts = ReturnType<typeof useBench>

/** The desk of a version, closed when another one comes. */
function useDesk(version: FramePage['versions'][number]): VersionDesk {
  // a version's own saves come back as new data; only another version needs another desk
  const first = useRef(version)
  if (first.current.id !== version.id) first.current = version
  const desk = useMemo(() => VersionDesk.of(first.current), [first.current])
  useEffect(() => {
    desk.open()
    return () => desk.close()
  }, [desk])
  return desk
}
