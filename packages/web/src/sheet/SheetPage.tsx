import { useAtomValue } from 'jotai'
import type { Frame, Mark, Text } from '@dunkelkammer/contract'
import type { Development } from '@dunkelkammer/core'
import { useCallback, useEffect, useEffectEvent, useMemo, useRef, useState } from 'react'
import { useLocation, useNavigate, useParams, useSearchParams } from 'react-router'
import { fetchNews, renameShoot } from '../api/queries'
import { api, sentence } from '../api/client'
import { KeysDialog, Palette } from '../commands/CommandDialogs'
import { useCommandKeys, type Command } from '../commands/commands'
import { NameField } from '../controls/NameField'
import { useStored } from '../shell/useStored'
import { BringInDialog } from '../bringIn/BringInDialog'
import { BringInLine } from '../bringIn/BringInLine'
import { ShootJobs } from '../bringIn/ShootJobs'
import { droppedFiles } from '../bringIn/store'
import { theEngine } from '../engine/engine'
import { Look } from '../look/Look'
import { Awaited } from '../shell/Awaited'
import { Modal } from '../shell/Modal'
import { TopLine } from '../shell/Page'
import { useFileDrop } from '../shell/useFileDrop'
import { cellsOf, framesOf } from './cells'
import { CopyDialog } from '../presets/CopyDialog'
import { copiedAreaAtom, copiedSettingsAtom } from '../desk/copied'
import { PresetPicker, type Picked } from '../presets/PresetPicker'
import { changeFrames, doAgain, emptyBin, say, takeBack, useChanges } from './changes'
import { choosingCommands, MARKED, starWord } from './choosingCommands'
import { Details } from './Details'
import { handOf, takeInHand } from './hand'
import { workOnMany } from './many'
import { DeliverDialog } from '../deliveries/DeliverDialog'
import { MatchDialog } from './MatchDialog'
import { MoveDialog } from './MoveDialog'
import { EmptySheet } from './EmptySheet'
import { FilterBar } from './FilterBar'
import { Grid } from './Grid'
import { all, chosenAs, clicked, inverse, moved, NOTHING, only, still, type Selection } from './selection'
import { FOLD_SECONDS, SheetFoot, SIZES } from './SheetFoot'
import { PresetInHand } from './PresetInHand'
import {
  applyPicked,
  handPicked,
  matchFrames,
  pasteArea,
  pasteSettings,
  startJob,
  takeJobBack,
} from './settingsJobs'
import type { Stack } from './stacks'
import { asQuery, sheetSearch, useSheet } from './useSheet'

const ENGINE_AFTER_MS = 700
const ON_OFF = ['on', 'off'] as const

const KEY_HINTS = {
  title: 'Sheet',
  text: 'Arrow keys move, with Shift they choose. Click, Shift and Ctrl choose with the pointer; a drag draws a rectangle, with Ctrl it adds. A double click develops. In the look, press for 100 % under the pointer.',
}

const frameWord = (n: number) => (n === 1 ? '1 frame' : `${n} frames`)
/** "12 frames", "5 of 12 frames", "12 frames in 9 places" where stacks are folded. */
function countLine(stacks: readonly Stack[], there: number): string {
  const shown = stacks.reduce((n, s) => n + s.frames.length, 0)
  const counted = shown === there ? frameWord(shown) : `${shown} of ${frameWord(there)}`
  return stacks.length < shown ? `${counted} in ${stacks.length} places` : counted
}

/** Marks an entry of the browser's history that the sheet has made for the look. */
const LOOKED = { look: true } as const

/** The frames of a shoot: looked through, rated, filtered, put in order, thrown out. */
export function SheetPage() {
  const { shootId = '' } = useParams()
  const sheet = useSheet(shootId)
  const { query, all: frames, filter, order, stacks, foldSeconds } = sheet
  const [search, setSearch] = useSearchParams()
  const navigate = useNavigate()
  const { done, undone } = useChanges()

  const [sizeText, setSize] = useStoredNumber('sheet-size', 200)
  const size = Math.min(Math.max(sizeText, SIZES.least), SIZES.most)
  const [moveOn, setMoveOn] = useStored<'on' | 'off'>('move-on', 'on', ON_OFF)
  const [details, setDetails] = useStored<'on' | 'off'>('details', 'on', ON_OFF)
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set())
  // who comes back from the bench finds the frame that was there in hand
  const [selection, setSelection] = useState<Selection>(() => {
    const at = handOf(shootId)
    return at ? only(at) : NOTHING
  })
  useEffect(() => {
    if (selection.at) takeInHand(shootId, selection.at)
  }, [shootId, selection.at])
  /** Frames that come into the hand as soon as the sheet shows them. */
  const coming = useRef<readonly string[]>([])
  const [dialog, setDialog] = useState<
    'bring' | 'keys' | 'palette' | 'empty' | 'move' | 'preset' | 'match' | 'deliver'
  >()
  const [naming, setNaming] = useState(false)
  const [dropped, setDropped] = useState<readonly File[]>()
  const { over, listeners } = useFileDrop(
    (data) =>
      void droppedFiles(data).then((files) => {
        if (files.length === 0) return say('Nothing was dropped that could be read.')
        setDropped(files)
        setDialog('bring')
      }),
  )
  const words = useRef<HTMLInputElement>(null)

  // the engine starts while the user is choosing, so that the first frame need not wait for it; the sheet comes first
  const known = query.data !== undefined
  useEffect(() => {
    if (!known) return
    const timer = setTimeout(() => void theEngine().catch(() => undefined), ENGINE_AFTER_MS)
    return () => clearTimeout(timer)
  }, [known])

  const cells = useMemo(() => cellsOf(stacks, unfolded), [stacks, unfolded])
  const shownIds = useMemo(() => cells.map((c) => c.frame.id), [cells])
  const before = useRef(shownIds)
  useEffect(() => {
    const was = before.current
    before.current = shownIds
    const come = shownIds.filter((id) => coming.current.includes(id))
    coming.current = []
    setSelection((s) => (come.length ? chosenAs(come) : still(s, shownIds, was)))
  }, [shownIds])
  /** Takes frames into the hand that a change taken back or done again has brought. */
  const receive = (ids: readonly string[]) => {
    const there = shownIds.filter((id) => ids.includes(id))
    if (there.length) setSelection(chosenAs(there))
    else coming.current = ids
  }

  /** Chosen frames; a folded stack stands for its best. */
  const chosen = useMemo(
    () => cells.filter((c) => selection.ids.has(c.frame.id)).map((c) => c.frame),
    [cells, selection.ids],
  )
  /** What is written or done is for all frames of a folded stack. */
  const chosenAll = useMemo(
    () => cells.filter((c) => selection.ids.has(c.frame.id)).flatMap((c) => framesOf(c, stacks)),
    [cells, selection.ids, stacks],
  )
  const inHand = cells.findIndex((c) => c.frame.id === selection.at)
  const lookId = search.get('look')
  const named = lookId ? cells.findIndex((c) => c.frame.id === lookId) : -1
  // a frame that was dropped is gone before the address names the next: nothing may flash in between
  const looked = lookId && named < 0 ? inHand : named
  const { state: came } = useLocation() as { state: { look?: true } | null }
  /** Opens the look, which the browser's way back closes, or names another frame in it. */
  const lookAt = useCallback(
    (id: string | undefined, how: { replace: boolean; state?: { look: true } }) =>
      setSearch((s) => {
        const out = new URLSearchParams(s)
        if (id) out.set('look', id)
        else out.delete('look')
        return out
      }, how),
    [setSearch],
  )
  const openLook = (id: string) => lookAt(id, { replace: false, state: LOOKED })
  const closeLook = useCallback(() => {
    if (came?.look) void navigate(-1)
    else lookAt(undefined, { replace: true })
  }, [came?.look, navigate, lookAt])
  // the look follows the frame in hand: where that was dropped, its neighbour
  const follow = useEffectEvent((at: string | undefined) => {
    if (lookId && at && at !== lookId) lookAt(at, { replace: true, state: came?.look && LOOKED })
  })
  useEffect(() => follow(selection.at), [selection.at])
  useEffect(() => {
    if (lookId && looked >= 0 && selection.at === undefined) setSelection(only(lookId))
    if (lookId && looked < 0 && query.data && selection.at === undefined) closeLook()
  }, [lookId, looked, query.data, selection.at, closeLook])

  const change = (
    targets: readonly Frame[],
    setting: Parameters<typeof changeFrames>[2],
    label: string,
    goesOn = true,
  ) => {
    const at = selection.at ? shownIds.indexOf(selection.at) : -1
    changeFrames(shootId, targets, setting, label)
    if (goesOn && moveOn === 'on' && chosen.length <= 1 && at >= 0 && at + 1 < shownIds.length)
      setSelection(only(shownIds[at + 1]))
  }
  // the frame in hand is meant where none is chosen
  const handful = chosenAll.length || inHand < 0 ? chosenAll : framesOf(cells[inHand], stacks)
  // the look shows one frame, and means that one
  const meant = looked >= 0 ? [cells[looked].frame] : handful
  const rate = (rating: number) =>
    change(meant, { rating }, `${starWord(rating)} for ${frameWord(meant.length)}`)
  const mark = (kind: Mark) => {
    // what is dropped leaves the sheet by itself, its neighbour comes into the hand
    change(
      meant,
      { mark: kind },
      `${MARKED[kind]}: ${frameWord(meant.length)}`,
      kind !== 'drop' && !filter.bin,
    )
  }
  const rateOne = useCallback(
    (id: string, rating: number) => {
      const cell = cells.find((c) => c.frame.id === id)
      if (!cell) return
      const of = framesOf(cell, stacks)
      const whom = of.length > 1 ? frameWord(of.length) : cell.frame.fileName
      changeFrames(shootId, of, { rating }, `${starWord(rating)} for ${whom}`)
    },
    [cells, stacks, shootId],
  )
  const unfold = useCallback(
    (stack: string) =>
      setUnfolded((was) => {
        const next = new Set(was)
        if (!next.delete(stack)) next.add(stack)
        return next
      }),
    [],
  )
  const carried = sheetSearch(search)
  const develop = (id: string) => {
    // several that are chosen are worked on together
    const together = chosenAll.some((f) => f.id === id) && chosenAll.length > 1
    workOnMany(shootId, together ? { ids: chosenAll.map((f) => f.id), how: 'value' } : undefined)
    void navigate(`/shoots/${shootId}/frames/${id}${asQuery(carried)}`)
  }
  // a frame in hand that is one of several chosen: the others can be matched to it
  const matchTo = chosenAll.length > 1 ? chosenAll.find((f) => f.id === selection.at) : undefined
  const compareable = chosen.length >= 2 && chosen.length <= 4
  const stackInHand = inHand >= 0 && cells[inHand].count > 1 ? cells[inHand] : undefined
  const compare = () => {
    const members = stackInHand && !stackInHand.unfolded ? stacksFrames(stackInHand.stack) : []
    const ids = compareable ? chosen.map((f) => f.id) : members.slice(0, 4).map((f) => f.id)
    if (ids.length < 2) return say('Choose two to four frames to see them side by side.')
    const to = new URLSearchParams(carried)
    to.set('frames', ids.join(','))
    void navigate(`/shoots/${shootId}/compare?${to.toString()}`)
  }
  const stacksFrames = (name: string): readonly Frame[] =>
    stacks.find((s) => s.frames.some((f) => f.id === name))?.frames ?? []
  const toggleBin = () => sheet.setFilter(filter.bin ? { ...filter, bin: undefined } : { bin: true })
  const writeSidecars = async () => {
    const ids = chosenAll.map((f) => f.id)
    try {
      const { beside, inLibrary, problems } = await api.writeSidecars(ids)
      if (inLibrary > 0) {
        const url = URL.createObjectURL(await api.zippedSidecars(ids))
        const link = document.createElement('a')
        link.href = url
        link.download = 'sidecars.zip'
        link.click()
        setTimeout(() => URL.revokeObjectURL(url), 10000)
      }
      const parts = [
        beside ? `${beside} written beside their originals` : '',
        inLibrary ? `${inLibrary} written in the library, an archive of them is being downloaded` : '',
        ...problems,
      ]
      say(`Sidecars: ${parts.filter(Boolean).join(', ')}.`)
    } catch (error) {
      say(sentence(error))
    }
  }
  const copied = useAtomValue(copiedAreaAtom)
  const copiedSettings = useAtomValue(copiedSettingsAtom)
  const [copying, setCopying] = useState<{ development: Development; fileName: string }>()
  const [inTheHand, setInTheHand] = useState<Picked>()
  /** What the preset in the hand was given to, one job after another. */
  const [handed, setHanded] = useState<readonly { job: string; names: string }[]>([])
  const giveInHand = (to: readonly Frame[], picked: Picked) =>
    void handPicked(shootId, to, picked).then((job) => {
      const names = to.length === 1 ? to[0].fileName : frameWord(to.length)
      if (job) setHanded((all) => [...all, { job, names }])
    })
  const takeHandedBack = () => {
    const last = handed.at(-1)
    if (!last) return
    setHanded(handed.slice(0, -1))
    void takeJobBack(shootId, last.job)
  }
  const mendDust = () => startJob(() => api.mendDust(chosenAll.map((f) => f.id)))
  const copySettings = async () => {
    if (inHand < 0) return
    const { id, fileName } = cells[inHand].frame
    try {
      const { versions, shown } = await api.frame(id)
      const { development } = versions.find((v) => v.id === shown) ?? versions[0]
      setCopying({ development, fileName })
    } catch (error) {
      say(sentence(error))
    }
  }
  const keepCopies = async () => {
    const ids = chosenAll.filter((f) => f.inPlace !== undefined).map((f) => f.id)
    say(`Copying ${ids.length === 1 ? '1 original' : `${ids.length} originals`} into the library.`)
    try {
      const { count, problems } = await api.keepCopies(ids)
      await fetchNews(shootId)
      say([`${count} of ${ids.length} originals copied into the library.`, ...problems].join(' '))
    } catch (error) {
      say(sentence(error))
    }
  }
  const join = () => {
    const stack = crypto.randomUUID()
    changeFrames(shootId, chosenAll, { stack }, `Joined: ${frameWord(chosenAll.length)}`)
    if (!foldSeconds) sheet.setFold(FOLD_SECONDS)
  }
  const splitApart = () =>
    changeFrames(shootId, chosenAll, () => ({ stack: crypto.randomUUID() }), 'Taken out of their stacks')
  const stackByTime = () =>
    changeFrames(shootId, chosenAll, { stack: null }, 'Stacked by the time of their taking')
  const walk = (by: number) => setSelection((s) => moved(s, shownIds, by, false))
  const some = chosen.length > 0
  const here = (list: readonly { shootId: string }[]) => list.some((d) => d.shootId === shootId)

  const choosing: Command[] = [
    ...choosingCommands({
      disabled: meant.length === 0,
      rate,
      mark,
      takeBack: here(done) ? () => receive(takeBack(shootId)) : undefined,
      doAgain: here(undone) ? () => receive(doAgain(shootId)) : undefined,
      inBin: filter.bin,
    }),
    {
      id: 'move-on',
      label: moveOn === 'on' ? 'Stay on a frame once it is rated' : 'Move on once a frame is rated',
      group: 'Choose',
      keys: 'M',
      run: () => setMoveOn(moveOn === 'on' ? 'off' : 'on'),
    },
  ]
  const sheetCommands: Command[] = [
    ...choosing,
    {
      id: 'all',
      label: 'Choose all',
      group: 'Choose',
      keys: 'Ctrl+A',
      run: () => setSelection((s) => all(s, shownIds)),
    },
    {
      id: 'none',
      label: 'Choose none',
      group: 'Choose',
      keys: 'Escape',
      disabled: inTheHand !== undefined,
      run: () => setSelection((s) => ({ ...s, ids: new Set() })),
    },
    {
      id: 'inverse',
      label: 'Choose the others',
      group: 'Choose',
      keys: 'Ctrl+I',
      run: () => setSelection((s) => inverse(s, shownIds)),
    },
    {
      id: 'look',
      label: 'Look at the frame in the whole window',
      group: 'View',
      keys: 'L',
      disabled: inHand < 0,
      run: () => openLook(selection.at!),
    },
    { id: 'compare', label: 'See side by side', group: 'View', keys: 'C', run: compare },
    {
      id: 'fold',
      label: foldSeconds ? 'Show all frames of stacks' : 'Fold what was taken at once into stacks',
      group: 'View',
      keys: 'F',
      run: () => sheet.setFold(foldSeconds ? 0 : FOLD_SECONDS),
    },
    {
      id: 'unfold',
      label: 'Unfold or fold this stack',
      group: 'View',
      keys: 'S',
      disabled: !stackInHand,
      run: () => stackInHand && unfold(stackInHand.stack),
    },
    {
      id: 'join',
      label: 'Join the chosen frames into a stack',
      group: 'Choose',
      keys: 'J',
      disabled: chosen.length < 2,
      run: join,
    },
    {
      id: 'split',
      label: 'Take the chosen frames out of their stacks',
      group: 'Choose',
      keys: 'P',
      disabled: !some || !foldSeconds,
      run: splitApart,
    },
    {
      id: 'by-time',
      label: 'Stack the chosen frames by time again',
      group: 'Choose',
      disabled: !chosen.some((f) => f.stack !== undefined),
      run: stackByTime,
    },
    {
      id: 'move',
      label: 'Move the chosen frames to another shoot',
      group: 'Work',
      disabled: !some,
      run: () => setDialog('move'),
    },
    { id: 'rename', label: 'Rename this shoot', group: 'Work', run: () => setNaming(true) },
    {
      id: 'details',
      label: 'Show or hide the details',
      group: 'View',
      keys: 'I',
      run: () => setDetails(details === 'on' ? 'off' : 'on'),
    },
    {
      id: 'bin',
      label: filter.bin ? 'Leave the bin' : 'Look into the bin',
      group: 'View',
      keys: 'B',
      run: toggleBin,
    },
    {
      id: 'larger',
      label: 'Larger pictures',
      group: 'View',
      keys: '+',
      run: () => setSize(Math.min(size + 40, SIZES.most)),
    },
    {
      id: 'smaller',
      label: 'Smaller pictures',
      group: 'View',
      keys: '-',
      run: () => setSize(Math.max(size - 40, SIZES.least)),
    },
    { id: 'words', label: 'Search for words', group: 'View', keys: '/', run: () => words.current?.focus() },
    {
      id: 'develop',
      label: 'Develop the frame at the bench',
      group: 'Work',
      keys: 'Enter',
      disabled: inHand < 0,
      run: () => develop(selection.at!),
    },
    { id: 'bring', label: 'Bring in', group: 'Work', keys: 'Ctrl+B', run: () => setDialog('bring') },
    {
      id: 'sidecars',
      label: 'Write sidecars of the chosen frames',
      group: 'Work',
      disabled: !some,
      run: () => void writeSidecars(),
    },
    {
      id: 'paste-area',
      label: copied
        ? `Paste “${copied.area.name}” into the chosen frames`
        : 'Paste the copied area into the chosen frames',
      group: 'Work',
      disabled: !some || !copied,
      run: () => copied && void pasteArea(chosenAll, copied.area),
    },
    {
      id: 'copy-settings',
      label: 'Copy settings',
      group: 'Work',
      keys: 'Alt+C',
      disabled: inHand < 0,
      run: () => void copySettings(),
    },
    {
      id: 'paste-settings',
      label: 'Paste settings into the chosen frames',
      group: 'Work',
      keys: 'Alt+P',
      disabled: !some || !copiedSettings,
      run: () => copiedSettings && void pasteSettings(chosenAll, copiedSettings),
    },
    {
      id: 'match',
      label: matchTo
        ? `Match exposure and white to ${matchTo.fileName}`
        : 'Match exposure and white to the frame in hand',
      group: 'Work',
      keys: 'Alt+M',
      disabled: !matchTo,
      run: () => setDialog('match'),
    },
    {
      id: 'preset',
      label: 'Apply a preset to the chosen frames',
      group: 'Work',
      keys: 'Alt+L',
      disabled: !some,
      run: () => setDialog('preset'),
    },
    {
      id: 'deliver',
      label: 'Deliver the chosen frames',
      group: 'Work',
      keys: 'Ctrl+Enter',
      disabled: !some,
      run: () => setDialog('deliver'),
    },
    {
      id: 'preset-away',
      label: 'Put the preset away',
      group: 'Work',
      also: 'Escape',
      disabled: !inTheHand,
      run: () => setInTheHand(undefined),
    },
    {
      id: 'dust',
      label: 'Mend dust in the chosen frames',
      group: 'Work',
      disabled: !some,
      run: () => void mendDust(),
    },
    {
      id: 'empty',
      label: 'Empty the bin',
      group: 'Work',
      disabled: !frames.some((f) => f.mark === 'drop'),
      run: () => setDialog('empty'),
    },
    {
      id: 'palette',
      label: 'Find a command',
      group: 'Work',
      keys: 'Ctrl+K',
      run: () => setDialog('palette'),
    },
    { id: 'keys', label: 'List the keys', group: 'Work', keys: '?', run: () => setDialog('keys') },
  ]
  const looking = looked >= 0
  useCommandKeys(() => (looking ? [] : sheetCommands))

  if (looking) {
    const turn: Command[] = [
      { id: 'next', label: 'Next frame', group: 'View', keys: 'ArrowRight', run: () => walk(1) },
      { id: 'previous', label: 'Previous frame', group: 'View', keys: 'ArrowLeft', run: () => walk(-1) },
      {
        id: 'look-develop',
        label: 'Develop the frame at the bench',
        group: 'Work',
        keys: 'Enter',
        run: () => develop(cells[looked].frame.id),
      },
    ]
    return (
      <Look
        frame={cells[looked].frame}
        place={looked}
        count={cells.length}
        neighbours={[cells[looked + 1], cells[looked - 1]].filter(Boolean).map((c) => c.frame)}
        commands={[...choosing, ...turn]}
        onRate={(rating) => change(meant, { rating }, `${starWord(rating)} for ${meant[0].fileName}`, false)}
        onClose={closeLook}
      />
    )
  }

  const { data } = query
  const inBin = frames.filter((f) => f.mark === 'drop').length
  const closeDialog = () => {
    setDialog(undefined)
    setDropped(undefined)
  }
  return (
    <div className="flex h-full flex-col" {...listeners}>
      <TopLine>
        {naming && data ? (
          <h1 className="flex w-96 min-w-0">
            <NameField
              label="Name of the shoot"
              name={data.shoot.name}
              onDone={(name) => {
                setNaming(false)
                if (name && name !== data.shoot.name)
                  renameShoot(shootId, name).catch((error: unknown) => say(sentence(error)))
              }}
            />
          </h1>
        ) : (
          <h1
            className="min-w-0 truncate text-[15px] font-semibold text-bright"
            title={data?.shoot.name}
            onDoubleClick={() => setNaming(true)}
          >
            {data?.shoot.name ?? 'Contact sheet'}
          </h1>
        )}
        <BringInLine />
      </TopLine>
      {data && (
        <FilterBar
          frames={frames}
          filter={filter}
          order={order}
          onFilter={sheet.setFilter}
          onOrder={sheet.setOrder}
          words={words}
        />
      )}
      <ShootJobs shootId={shootId} />
      {inTheHand && (
        <PresetInHand
          picked={inTheHand}
          handed={handed}
          onTakeBack={takeHandedBack}
          onPutAway={() => setInTheHand(undefined)}
        />
      )}
      <div className="flex min-h-0 flex-1">
        <main
          className={`relative min-w-0 flex-1 ${over ? 'outline-2 -outline-offset-4 outline-safe outline-dashed' : ''}`}
        >
          {!data && (
            <div className="p-6">
              <Awaited query={query} label="Loading the frames" />
            </div>
          )}
          {data && cells.length > 0 && (
            <Grid
              cells={cells}
              size={size}
              selection={selection}
              onClick={(id, keys) => {
                const cell = cells.find((c) => c.frame.id === id)
                if (inTheHand && cell) giveInHand(framesOf(cell, stacks), inTheHand)
                else setSelection((s) => clicked(s, id, shownIds, keys))
              }}
              onOpen={develop}
              onBox={(ids, kept) =>
                setSelection((s) => ({
                  ids: new Set([...kept, ...ids]),
                  at: ids.at(-1) ?? s.at,
                  anchor: ids[0] ?? s.anchor,
                }))
              }
              onNone={() => setSelection((s) => ({ ...s, ids: new Set() }))}
              onRate={rateOne}
              onUnfold={unfold}
              onArrow={(by, extend) => setSelection((s) => moved(s, shownIds, by, extend))}
            />
          )}
          {data && cells.length === 0 && (
            <EmptySheet
              kind={frames.length === 0 ? 'new' : filter.bin && inBin === 0 ? 'bin' : 'filter'}
              onBring={() => setDialog('bring')}
              onClear={() => sheet.setFilter({})}
            />
          )}
        </main>
        {details === 'on' && data && (
          <aside
            aria-label="About the chosen frames"
            className="w-[280px] shrink-0 overflow-y-auto border-l border-line bg-panel"
          >
            <Details
              frames={chosenAll}
              onText={(text: (f: Frame) => Partial<Text>, label) =>
                changeFrames(shootId, chosenAll, (f) => ({ text: text(f) }), label)
              }
              onSidecars={() => void writeSidecars()}
              onPaste={copied && (() => void pasteArea(chosenAll, copied.area))}
              pasted={copied?.area.name}
              onCopySettings={() => void copySettings()}
              onPasteSettings={copiedSettings && (() => void pasteSettings(chosenAll, copiedSettings))}
              settingsOf={copiedSettings?.fileName}
              onPreset={() => setDialog('preset')}
              onDeliver={() => setDialog('deliver')}
              onMatch={matchTo && (() => setDialog('match'))}
              matchTo={matchTo?.fileName}
              onDust={() => void mendDust()}
              onCopies={() => void keepCopies()}
            />
          </aside>
        )}
      </div>
      <SheetFoot
        shootId={shootId}
        counts={countLine(stacks, filter.bin ? inBin : frames.length - inBin)}
        chosen={chosen.length}
        inBin={inBin}
        binOpen={filter.bin === true}
        foldSeconds={foldSeconds}
        moveOn={moveOn === 'on'}
        size={size}
        details={details === 'on'}
        onFold={sheet.setFold}
        onBin={toggleBin}
        onTakeBack={() => receive(takeBack(shootId))}
        onTakeOut={() => mark('none')}
        onEmpty={() => setDialog('empty')}
        onMoveOn={() => setMoveOn(moveOn === 'on' ? 'off' : 'on')}
        onSize={setSize}
        onDetails={() => setDetails(details === 'on' ? 'off' : 'on')}
        onBring={() => setDialog('bring')}
      />
      {data && (
        <BringInDialog
          key={dropped ? `dropped ${dropped.length}` : 'asked'}
          open={dialog === 'bring'}
          onClose={closeDialog}
          shoot={data.shoot}
          files={dropped}
        />
      )}
      {copying && <CopyDialog {...copying} onClose={() => setCopying(undefined)} />}
      {dialog === 'preset' && (
        <PresetPicker
          frames={frameWord(chosenAll.length)}
          onClose={closeDialog}
          onApply={(picked) => {
            closeDialog()
            void applyPicked(chosenAll, picked)
          }}
          onTake={(picked) => {
            closeDialog()
            setHanded([])
            setInTheHand(picked)
          }}
        />
      )}
      {dialog === 'match' && matchTo && (
        <MatchDialog
          to={matchTo}
          frames={chosenAll.filter((f) => f.id !== matchTo.id)}
          onClose={closeDialog}
          onApply={(light) => {
            closeDialog()
            void matchFrames(chosenAll, matchTo, light)
          }}
        />
      )}
      {dialog === 'deliver' && (
        <DeliverDialog frames={chosenAll.map(({ id }) => ({ id }))} onClose={closeDialog} presets />
      )}
      {dialog === 'move' && (
        <MoveDialog
          count={chosenAll.length}
          from={shootId}
          onClose={closeDialog}
          onMove={(to, name) => {
            closeDialog()
            changeFrames(
              shootId,
              chosenAll,
              { shootId: to },
              `Moved to ${name}: ${frameWord(chosenAll.length)}`,
            )
          }}
        />
      )}
      <KeysDialog open={dialog === 'keys'} onClose={closeDialog} commands={sheetCommands} hints={KEY_HINTS} />
      <Palette open={dialog === 'palette'} onClose={closeDialog} commands={sheetCommands} />
      <Modal open={dialog === 'empty'} onClose={closeDialog} title="Empty the bin">
        <p className="mb-5">
          {frameWord(inBin)} will be removed for good, with their versions and with the copies of their
          originals in the library. Originals that were left where they are stay there.
        </p>
        <div className="flex justify-end gap-2">
          <button className="button" onClick={closeDialog}>
            Cancel
          </button>
          <button
            className="button button-main"
            onClick={() => {
              closeDialog()
              void emptyBin(shootId)
            }}
          >
            Remove {frameWord(inBin)}
          </button>
        </div>
      </Modal>
    </div>
  )
}

/** A number that this browser remembers. */
function useStoredNumber(key: string, start: number): [number, (value: number) => void] {
  const [value, setValue] = useState(() => Number(localStorage.getItem(key)) || start)
  return [
    value,
    (next) => {
      setValue(next)
      localStorage.setItem(key, String(next))
    },
  ]
}
