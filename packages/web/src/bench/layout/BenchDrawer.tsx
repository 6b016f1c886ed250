import { BalanceDrawer } from '../balance/BalanceDrawer'
import { ExposeDrawer } from '../expose/ExposeDrawer'
import { OrdinarySections } from '../steps/OrdinarySection'
import { FinishDrawer } from '../finish/FinishDrawer'
import { RefineDrawer } from '../refine/RefineDrawer'
import { SquareDrawer } from '../square/SquareDrawer'
import { AboutFrame } from './AboutFrame'
import type { BenchParts } from '../useBench'

/** The controls of the stage that is worked on. */
export function BenchDrawer({ bench }: { bench: BenchParts }) {
  const {
    drawerProps,
    desk,
    stage,
    cameraMatch,
    framed,
    adjust,
    squaring,
    finding,
    hues,
    auto,
    softness,
    noise,
    takeFor,
    rail,
    tryNeutral,
    whiteAlone,
    openLooks,
    finished,
    compareVariants,
    stageName,
    frame,
    development,
    versionActions,
    picture,
    toolProblem,
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
    curveMark,
  } = bench
  return (
    <aside aria-label="Drawer" className="flex w-[320px] shrink-0 flex-col border-r border-line bg-panel">
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
  )
}
