import type { FramePage, ShootPage } from '@dunkelkammer/contract'
import { ErrorNotice } from '../shell/Notice'
import { ChooseOriginal } from './picture/ChooseOriginal'
import { KeysDialog, Palette } from '../commands/CommandDialogs'
import { useCommandKeys } from '../commands/commands'
import { DeliverDialog } from './deliver/DeliverDialog'
import { HistoryPanel } from './history/HistoryPanel'
import { Variants } from './refine/Variants'
import { withPart } from './refine/variants'
import { LooksBrowser } from './looks/LooksBrowser'
import { Strip } from './layout/Strip'
import { ToneRail } from './tone/ToneRail'
import { BenchDrawer } from './layout/BenchDrawer'
import { BenchFoot } from './layout/BenchFoot'
import { BenchHeader } from './layout/BenchHeader'
import { benchCommands } from './benchCommands'
import { PictureArea } from './picture/PictureArea'
import { useBench } from './useBench'

const KEY_HINTS = {
  title: 'Controls and picture',
  text: 'Arrow keys and wheel step a control, with Shift by ten; a double click resets it. Arrow keys move a zoomed picture.',
}

/** One version of one frame, being developed. */
export function Bench({ page, shoot }: { page: FramePage; shoot: ShootPage }) {
  const bench = useBench(page, shoot)
  const {
    railHands,
    version,
    desk,
    deskState,
    zoom,
    strip,
    stripSearch,
    compareLink,
    opening,
    squared,
    framed,
    views,
    adjust,
    own,
    rail,
    versionLink,
    closeDialog,
    frame,
    search,
    development,
    centre,
    versionActions,
    versionProblem,
    forgetVersionProblem,
    setAttempt,
    picture,
    dialog,
    bare,
    railScale,
    setRailScale,
    looks,
    setLooks,
    setTrial,
    setDivider,
    spot,
    variants,
    setVariants,
    setReference,
    history,
    setHistory,
  } = bench
  const commands = benchCommands(bench)
  useCommandKeys(commands)

  return (
    <div className="flex h-full flex-col">
      {!bare && <BenchHeader bench={bench} />}
      <div className="flex min-h-0 flex-1">
        {!bare && <BenchDrawer bench={bench} />}
        <main className="flex min-w-0 flex-1 flex-col">
          <PictureArea bench={bench} />
          {!bare && <BenchFoot bench={bench} />}
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
