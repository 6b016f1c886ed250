import type { FramePage, ShootPage } from '@dunkelkammer/contract'
import { withoutStages, type Development, type StageId, type Triple } from '@dunkelkammer/core'
import { AUTOMATICS } from '@dunkelkammer/engine/browser'
import {
  ChevronLeft,
  CircleHelp,
  Columns2,
  History,
  Redo2,
  SquareSplitHorizontal,
  Undo2,
  View,
} from 'lucide-react'
import { useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore } from 'react'
import { Link, useNavigate, useSearchParams } from 'react-router'
import { api } from '../api/client'
import { Choice } from '../controls/Choice'
import { ErrorNotice, Progress } from '../shell/Notice'
import { ChooseOriginal } from './ChooseOriginal'
import { useSheet, sheetSearch, asQuery } from '../sheet/useSheet'
import { ClippingMenu, useClipping } from './Clipping'
import { KeysDialog, Palette } from '../commands/CommandDialogs'
import { useCommandKeys, type Command } from '../commands/commands'
import { DeliverDialog } from './DeliverDialog'
import { CameraPane } from './CameraPane'
import { BeforeMenu } from './before/BeforeMenu'
import { BesidePane } from './before/BesidePane'
import { referenceKey, referenceName, UNTOUCHED, type Reference } from './before/reference'
import { useReference } from './before/useReference'
import { HistoryPanel } from './history/HistoryPanel'
import { AsideNotice } from '../desk/AsideNotice'
import { VersionDesk } from '../desk/versionDesk'
import { BalanceDrawer } from './drawers/BalanceDrawer'
import { ExposeDrawer } from './drawers/ExposeDrawer'
import { withStep } from './drawers/props'
import type { HuePart } from './drawers/balance/HueSection'
import { OrdinarySections } from './drawers/OrdinarySection'
import { FinishDrawer } from './drawers/FinishDrawer'
import { RefineDrawer } from './drawers/RefineDrawer'
import type { Masked } from './drawers/refine/props'
import { Divider } from './refine/Divider'
import { SpotPane } from './refine/SpotPane'
import { useSoftness } from './refine/useSoftness'
import { Variants } from './refine/Variants'
import { withPart } from './refine/variants'
import { SquareDrawer } from './drawers/SquareDrawer'
import { CropFrame, GUIDE_KINDS, LineGrid, OUTSIDES, type GuideKind, type Outside } from './CropFrame'
import { layOutView, ZOOMS, zoomLabel, type Pane, type Zoom } from './geometry'
import { LooksBrowser } from './LooksBrowser'
import { Marks } from './Marks'
import { READING_KINDS, ReadingsPanel, useReadings, type ReadingKind } from './Readings'
import { StageLine } from './StageLine'
import { isOpenStage, OPEN_STAGES, STAGE_LIST } from './stages'
import { Strip } from './Strip'
import { stripFrames } from '../sheet/stripFrames'
import { AboutFrame } from './AboutFrame'
import { RAIL_SCALES, ToneRail, type RailScale } from './ToneRail'
import type { Place, ToolId } from './tools'
import { useAutomatic } from './useAutomatic'
import { useEvent } from './useEvent'
import { useCurveLine } from './useCurveLine'
import { useHues } from './useHues'
import { useOffers } from './useOffers'
import { usePictureTool } from './usePictureTool'
import { useLensFinding, useSquared } from './useSquared'
import { useSquaring } from './useSquaring'
import { useStored } from '../shell/useStored'
import { useCameraMatch } from './useCameraMatch'
import { usePicture } from './usePicture'
import { useVersions } from './versions/useVersions'
import { useViews } from './useViews'
import { surroundColour, SURROUND_IDS, SURROUNDS, type Surround } from './surround'
import { Viewer } from './Viewer'

type Dialogs = 'deliver' | 'keys' | 'palette'

const KEY_HINTS = {
  title: 'Controls and picture',
  text: 'Arrow keys and wheel step a control, with Shift by ten; a double click resets it. Arrow keys move a zoomed picture.',
}

const readZoom = (text: string | null): Zoom => (text === '100' ? 1 : text === '200' ? 2 : 'fit')

/** One version of one frame, being developed. */
export function Bench({ page, shoot }: { page: FramePage; shoot: ShootPage }) {
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

  const commands: Command[] = [
    ...OPEN_STAGES.map((s, i) => ({
      id: `stage-${s.id}`,
      label: `Go to ${s.name}`,
      group: 'Stages' as const,
      keys: `Alt+${i + 1}`,
      run: () => chooseStage(s.id),
    })),
    { id: 'fit', label: 'Show the whole picture', group: 'View', keys: '0', run: () => setZoom('fit') },
    { id: 'zoom1', label: 'Show at 100 %', group: 'View', keys: '1', run: () => setZoom(1) },
    { id: 'zoom2', label: 'Show at 200 %', group: 'View', keys: '2', run: () => setZoom(2) },
    {
      id: 'before',
      label: 'See what it is compared with while held',
      group: 'View',
      keys: 'O',
      run: () => setBefore(true),
      release: () => setBefore(false),
    },
    {
      id: 'divide',
      label: 'Divide the picture from what it is compared with',
      group: 'View',
      keys: 'D',
      run: () => setDivider((at) => (at === undefined ? 0.5 : undefined)),
    },
    {
      id: 'variants',
      label: 'Compare variants of noise, sharpness or enlargement',
      group: 'Work',
      keys: 'V',
      disabled: !picture,
      run: () => setVariants(true),
    },
    {
      id: 'bare',
      label: 'Hide everything but the picture',
      group: 'View',
      keys: 'Q',
      run: () => setBare((b) => !b),
    },
    {
      id: 'beside',
      label: 'Show what it is compared with beside',
      group: 'View',
      keys: 'J',
      run: () => setBeside((b) => !b),
    },
    {
      id: 'clip-hold',
      label: 'Show what is clipped while held',
      group: 'View',
      keys: 'I',
      run: () => clipping.hold(true),
      release: () => clipping.hold(false),
    },
    {
      id: 'readings',
      label: 'Show readings',
      group: 'View',
      keys: 'R',
      run: () => setReadings(readings === 'on' ? 'off' : 'on'),
    },
    {
      id: 'rail',
      label: 'Next scale of the tone rail',
      group: 'View',
      keys: 'H',
      run: () => setRailScale(RAIL_SCALES[(RAIL_SCALES.indexOf(railScale) + 1) % RAIL_SCALES.length]),
    },
    {
      id: 'looks',
      label: 'Choose a look',
      group: 'Work',
      keys: 'L',
      run: () => {
        link({ stage: 'balance' })
        setLooks(true)
      },
    },
    {
      id: 'automatic',
      label: 'Set light and white balance from the picture',
      group: 'Work',
      keys: 'F',
      disabled: !auto.run,
      run: () => auto.run?.(AUTOMATICS, 1),
    },
    {
      id: 'frame',
      label: 'Set the frame',
      group: 'Work',
      keys: 'M',
      run: () => {
        link({ stage: 'square-up', zoom: undefined, at: undefined })
        take(held === 'crop' ? undefined : 'crop')
      },
    },
    {
      id: 'horizon',
      label: 'Level along a line',
      group: 'Work',
      keys: 'W',
      disabled: !picture,
      run: () => {
        link({ stage: 'square-up' })
        take(held === 'horizon' ? undefined : 'horizon')
      },
    },
    {
      id: 'grid',
      label: 'Grid of lines over the picture',
      group: 'View',
      keys: 'G',
      run: () => {
        link({ stage: 'square-up' })
        setGrid(grid === 'on' ? 'off' : 'on')
      },
    },
    { id: 'clip', label: 'Show what is clipped', group: 'View', keys: 'K', run: clipping.toggle },
    {
      id: 'surround',
      label: 'Next brightness of the surround',
      group: 'View',
      keys: 'U',
      run: () =>
        setSurround(SURROUNDS[(SURROUNDS.findIndex((s) => s.id === surround) + 1) % SURROUNDS.length].id),
    },
    { id: 'undo', label: 'Undo', group: 'Work', keys: 'Ctrl+Z', disabled: !undoes, run: desk.undo },
    { id: 'redo', label: 'Redo', group: 'Work', keys: 'Ctrl+Shift+Z', disabled: !redoes, run: desk.redo },
    {
      id: 'grey',
      label: 'Pick a grey in the picture',
      group: 'Work',
      keys: 'N',
      run: () => {
        link({ stage: 'balance' })
        take(held === 'grey' ? undefined : 'grey')
      },
    },
    {
      id: 'history',
      label: 'Show the history',
      group: 'View',
      keys: 'E',
      run: () => setHistory(history === 'open' ? 'closed' : 'open'),
    },
    { id: 'deliver', label: 'Deliver', group: 'Work', keys: 'Ctrl+Enter', run: () => setDialog('deliver') },
    { id: 'next', label: 'Next frame', group: 'Work', keys: 'PageDown', run: () => step(1) },
    { id: 'previous', label: 'Previous frame', group: 'Work', keys: 'PageUp', run: () => step(-1) },
    {
      id: 'palette',
      label: 'Find a command',
      group: 'Work',
      keys: 'Ctrl+K',
      run: () => setDialog('palette'),
    },
    { id: 'keys', label: 'List the keys', group: 'Work', keys: '?', run: () => setDialog('keys') },
  ]
  useCommandKeys(commands)

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

  return (
    <div className="flex h-full flex-col">
      {!bare && (
        <header className="flex h-[60px] shrink-0 border-b border-line bg-panel">
          <div className="flex w-[320px] shrink-0 items-center gap-2 border-r border-line px-3">
            <Link
              to={`/shoots/${frame.shootId}${asQuery(carried)}`}
              state={{ at: frame.id }}
              className="icon-button"
              aria-label="Back to the contact sheet"
            >
              <ChevronLeft className="h-5 w-5" aria-hidden />
            </Link>
            <div className="min-w-0 flex-1">
              <h1 className="truncate text-bright" title={frame.fileName}>
                {frame.fileName}
              </h1>
              <p className="truncate text-[11px] text-quiet" title={shoot.shoot.name}>
                {shoot.shoot.name}
              </p>
            </div>
            <SaveState saving={saving} problem={saveProblem} />
          </div>
          <StageLine
            development={development}
            heldOff={heldOff}
            stage={stage}
            onChoose={stageChosen}
            onHold={stageHeld}
          />
          <div className="flex shrink-0 items-center gap-1 border-l border-line px-2">
            <button
              className="icon-button"
              disabled={!undoes}
              onClick={desk.undo}
              aria-label="Undo"
              title={undoes ? `Undo: ${undoes}` : 'Nothing to undo'}
            >
              <Undo2 className="h-4 w-4" aria-hidden />
            </button>
            <button
              className="icon-button"
              disabled={!redoes}
              onClick={desk.redo}
              aria-label="Redo"
              title={redoes ? `Redo: ${redoes}` : 'Nothing to redo'}
            >
              <Redo2 className="h-4 w-4" aria-hidden />
            </button>
            <button
              className="icon-button"
              aria-pressed={history === 'open'}
              aria-label="History"
              title="History (E)"
              onClick={() => setHistory(history === 'open' ? 'closed' : 'open')}
            >
              <History className="h-4 w-4" aria-hidden />
            </button>
            <button className="button" onClick={() => setDialog('deliver')}>
              Deliver
            </button>
          </div>
        </header>
      )}
      <div className="flex min-h-0 flex-1">
        {!bare && (
          <aside
            aria-label="Drawer"
            className="flex w-[320px] shrink-0 flex-col border-r border-line bg-panel"
          >
            <div key={stage} className="min-h-0 flex-1 overflow-y-auto px-4 py-3">
              <h2 className="mb-2 font-semibold text-bright">{stageName}</h2>
              {stage === 'square-up' && (
                <SquareDrawer
                  {...drawerProps}
                  take={takeFor}
                  metadata={picture?.frame.metadata ?? frame.metadata}
                  finding={finding}
                  squaring={squaring}
                  square={framed}
                  grid={grid === 'on'}
                  setGrid={(on) => setGrid(on ? 'on' : 'off')}
                  guides={guides}
                  setGuides={setGuides}
                  outside={outside}
                  setOutside={setOutside}
                />
              )}
              {stage === 'expose' && (
                <ExposeDrawer
                  {...drawerProps}
                  view={rail}
                  cameraMatch={cameraMatch}
                  automatic={auto}
                  curveMark={curveMark}
                />
              )}
              {stage === 'balance' && (
                <BalanceDrawer
                  {...drawerProps}
                  white={{
                    tryNeutral,
                    busy: auto.busy,
                    automatic: auto.run && whiteAlone,
                  }}
                  hue={{
                    hues,
                    chosen: node,
                    choose: setNode,
                    part: huePart,
                    setPart: setHuePart,
                    showing: showingNode,
                    show: setShowingNode,
                  }}
                  onLooks={openLooks}
                  onCompare={versionActions.compareAnother}
                />
              )}
              {stage === 'finish' && <FinishDrawer {...drawerProps} />}
              <OrdinarySections stage={stage} {...{ development, adjust, endGesture: desk.endGesture }} />
              {toolProblem && (
                <p role="alert" className="mt-2 text-info">
                  {toolProblem}
                </p>
              )}
              {stage === 'refine' && (
                <RefineDrawer
                  {...drawerProps}
                  {...{ noise, softness, mask, setMask, finished }}
                  onCompare={compareVariants}
                />
              )}
            </div>
            <AboutFrame frame={frame} />
          </aside>
        )}
        <main className="flex min-w-0 flex-1 flex-col">
          <div className="flex min-h-0 flex-1">
            <Viewer
              views={views}
              geometry={geometry}
              zoom={zoom}
              surround={surround}
              previewUrl={previewUrl}
              showBefore={before}
              reference={reference}
              cameraGeometry={cameraGeometry}
              divider={divider}
              tool={tool}
              onHover={readings === 'on' ? setPointer : undefined}
              marks={
                geometry && (
                  <>
                    {divider !== undefined && <Divider at={divider} onMove={setDivider} />}
                    {stage === 'refine' && zoom === 'fit' && !bare && spotOpen === 'open' && (
                      <SpotPane
                        picture={picture}
                        development={shown}
                        at={spot}
                        onMove={setSpot}
                        choosing={held === 'spot'}
                        onChoose={() => take(held === 'spot' ? undefined : 'spot')}
                        onClose={() => setSpotOpen('closed')}
                      />
                    )}
                    {aside && (
                      <AsideNotice onTake={() => void desk.takeAside()} onLeave={() => desk.dismissAside()} />
                    )}
                    {stage === 'refine' && zoom === 'fit' && !bare && !offered && views.main && (
                      <div
                        role="status"
                        className="absolute top-3 left-1/2 z-10 flex -translate-x-1/2 items-center gap-3 border whitespace-nowrap border-edge bg-panel px-3 py-1.5"
                      >
                        Noise and sharpness are judged at full size.
                        <button className="button" onClick={() => answerOffer(true)}>
                          Show at 100 %
                        </button>
                        <button className="button" onClick={() => answerOffer(false)}>
                          Stay
                        </button>
                      </div>
                    )}
                    {stage === 'square-up' && grid === 'on' && <LineGrid geometry={geometry} />}
                    {framing && (
                      <CropFrame
                        geometry={geometry}
                        whole={square}
                        frame={framed}
                        development={development}
                        guides={guides}
                        outside={outside}
                        surround={surroundColour(surround)}
                        adjust={adjust}
                        endGesture={desk.endGesture}
                        onDone={() => take(undefined)}
                      />
                    )}
                    <Marks
                      geometry={geometry}
                      square={square}
                      picture={picture}
                      drawn={drawn}
                      marked={squaring.marked}
                      pins={pins}
                      development={development}
                      tool={held}
                      adjust={adjust}
                      endGesture={desk.endGesture}
                    />
                    {readings === 'on' && !bare && (
                      <ReadingsPanel
                        kind={reading}
                        onKind={setReading}
                        under={under}
                        pinned={pinned}
                        pins={pins}
                        pinning={held === 'pin'}
                        onPin={() => take(held === 'pin' ? undefined : 'pin')}
                        onUnpin={(i) => desk.setPins(pins.filter((_, k) => k !== i))}
                      />
                    )}
                  </>
                )
              }
              onPane={setPane}
              onPan={pan}
              onToggleZoom={(at) => (zoom === 'fit' ? setZoom(1, at) : setZoom('fit'))}
              onLeaveTool={() => take(undefined)}
            />
            {beside &&
              (reference.kind !== 'camera' ? (
                <BesidePane
                  name={referenceName(reference)}
                  shown={views.before}
                  geometry={geometry}
                  surround={surround}
                />
              ) : (
                previewUrl && (
                  <CameraPane
                    url={previewUrl}
                    geometry={cameraGeometry}
                    surround={surround}
                    smooth={zoom === 'fit' || !square.plain}
                  />
                )
              ))}
          </div>
          {!bare && (
            <div className="flex h-9 shrink-0 items-center justify-between gap-2 border-t border-line bg-panel px-3 text-[12px]">
              <Choice
                label="Zoom"
                value={zoom}
                options={ZOOMS.map((z) => ({ value: z, label: zoomLabel(z) }))}
                onChange={(z) => setZoom(z)}
              />
              <div className="min-w-0 truncate" aria-live="polite">
                {!views.main && !opening.problem && !views.problem && (
                  <Progress label={opening.label} share={picture ? views.share : opening.share} />
                )}
                {saving === 'waiting' && saveProblem && (
                  <span className="text-safe" title={saveProblem}>
                    {saveProblem}
                  </span>
                )}
                {opening.shared === false && views.main && saving !== 'waiting' && (
                  <span
                    className="text-quiet"
                    title="This page is not isolated, so memory cannot be shared between workers."
                  >
                    One worker only
                  </span>
                )}
              </div>
              <div className="flex items-center gap-2">
                <div className="flex items-center" role="group" aria-label="Before and after">
                  <BeforeMenu value={reference} options={references} onChange={setReference} />
                  <button
                    className="icon-button"
                    aria-pressed={before}
                    aria-label="Hold"
                    onPointerDown={() => setBefore(true)}
                    onPointerUp={() => setBefore(false)}
                    onPointerLeave={() => setBefore(false)}
                    onKeyDown={(e) => (e.key === ' ' || e.key === 'Enter') && setBefore(true)}
                    onKeyUp={() => setBefore(false)}
                    onBlur={() => setBefore(false)}
                    title={`Hold to see: ${referenceName(reference)} (O)`}
                  >
                    <View className="h-4 w-4" aria-hidden />
                  </button>
                  <button
                    className="icon-button"
                    aria-pressed={divider !== undefined}
                    aria-label="Divide"
                    onClick={() => setDivider((at) => (at === undefined ? 0.5 : undefined))}
                    title={`A line across the picture, to its left: ${referenceName(reference)} (D)`}
                  >
                    <SquareSplitHorizontal className="h-4 w-4" aria-hidden />
                  </button>
                  <button
                    className="icon-button"
                    aria-pressed={beside}
                    aria-label="Beside"
                    onClick={() => setBeside((b) => !b)}
                    title={`Beside it: ${referenceName(reference)} (J)`}
                  >
                    <Columns2 className="h-4 w-4" aria-hidden />
                  </button>
                </div>
                {stage === 'refine' && zoom === 'fit' && spotOpen === 'closed' && (
                  <button className="button !px-2 !py-0.5" onClick={() => setSpotOpen('open')}>
                    Spot
                  </button>
                )}
                <button
                  className="button !px-2 !py-0.5"
                  aria-pressed={readings === 'on'}
                  onClick={() => setReadings(readings === 'on' ? 'off' : 'on')}
                  title="Numbers under the pointer, and pinned ones"
                >
                  Readings
                </button>
                <ClippingMenu {...clipping} />
                <SurroundChoice value={surround} onChange={setSurround} />
                <button className="icon-button" aria-label="List the keys" onClick={() => setDialog('keys')}>
                  <CircleHelp className="h-4 w-4" aria-hidden />
                </button>
              </div>
            </div>
          )}
          {(opening.problem || views.problem || squared.problem || versionProblem) && (
            <div className="absolute top-20 right-40 left-[340px] z-20">
              <ErrorNotice
                action={
                  <>
                    <button
                      className="button mr-2"
                      onClick={() => {
                        forgetVersionProblem()
                        setAttempt((n) => n + 1)
                      }}
                    >
                      Try again
                    </button>
                    {opening.lost && (
                      <ChooseOriginal frameId={frame.id} onRestored={() => setAttempt((n) => n + 1)} />
                    )}
                  </>
                }
              >
                {opening.problem ?? views.problem ?? squared.problem ?? versionProblem}
              </ErrorNotice>
            </div>
          )}
        </main>
        {!bare && history === 'open' && (
          <HistoryPanel
            key={version.id}
            desk={desk}
            state={deskState}
            picture={picture}
            onClose={() => setHistory('closed')}
            onVersion={(place) => versionActions.add('this', place)}
            onBefore={(place, called) => {
              setReference({ kind: 'entry', place, called })
              setDivider((at) => at ?? 0.5)
            }}
          />
        )}
        {!bare && history === 'closed' && (
          <Strip
            frames={strip}
            frameId={frame.id}
            search={`?${stripSearch}`}
            page={page}
            versionId={version.id}
            versionLink={versionLink}
            address={search.toString()}
            compareLink={compareLink}
            actions={versionActions}
          />
        )}
      </div>
      {!bare && (
        <ToneRail
          view={rail}
          scale={railScale}
          onScale={setRailScale}
          hands={{ ...railHands, development }}
        />
      )}
      <LooksBrowser
        open={looks}
        onClose={() => setLooks(false)}
        picture={picture}
        development={development}
        own={own}
        onTry={setTrial}
        onChoose={(offer) =>
          adjust((d) => offer.apply(d), offer.key === 'none' ? 'No look' : `Look: ${offer.name}`)
        }
      />
      {variants && picture && (
        <Variants
          picture={picture}
          development={development}
          at={zoom === 'fit' ? spot : centre}
          onClose={() => setVariants(false)}
          onTake={(part, from) => {
            adjust((d) => withPart(d, part, from), 'Variant taken')
            setVariants(false)
          }}
        />
      )}
      {dialog === 'deliver' && (
        <DeliverDialog
          open
          onClose={closeDialog}
          versionId={version.id}
          fileName={frame.fileName}
          picture={framed.finished}
          settle={() => desk.settle()}
        />
      )}
      {dialog === 'keys' && <KeysDialog open onClose={closeDialog} commands={commands} hints={KEY_HINTS} />}
      {dialog === 'palette' && <Palette open onClose={closeDialog} commands={commands} />}
    </div>
  )
}

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

function SaveState({ saving, problem }: { saving: 'saved' | 'saving' | 'waiting'; problem?: string }) {
  const text = saving === 'saved' ? 'Saved' : saving === 'saving' ? 'Saving' : 'Not saved'
  return (
    <span
      role="status"
      title={problem}
      className={`shrink-0 text-[11px] ${saving === 'waiting' ? 'text-safe' : 'text-quiet'}`}
    >
      {text}
    </span>
  )
}

function SurroundChoice({ value, onChange }: { value: Surround; onChange(value: Surround): void }) {
  return (
    <div className="flex gap-1" role="group" aria-label="Brightness of the surround">
      {SURROUNDS.map((s) => (
        <button
          key={s.id}
          aria-label={s.label}
          aria-pressed={s.id === value}
          title={s.label}
          onClick={() => onChange(s.id)}
          className={`h-5 w-5 border ${s.id === value ? 'border-safe' : 'border-edge'}`}
          style={{ backgroundColor: s.colour }}
        />
      ))}
    </div>
  )
}
