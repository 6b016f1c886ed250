import type { FramePage, ShootPage } from '@dunkelkammer/contract'
import { Provider, useAtomValue } from 'jotai'
import { useCommandKeys } from '../commands/commands'
import { FEATURES } from './features'
import { HistorySide } from './history/feature'
import { AsideOverlay } from './layout/AsideOverlay'
import { BenchDrawer } from './layout/BenchDrawer'
import { BenchFoot } from './layout/BenchFoot'
import { BenchHeader } from './layout/BenchHeader'
import { OpeningProblem } from './layout/OpeningProblem'
import { sideAtom } from './layout/side'
import { ManyLine } from './many/feature'
import { Strip } from './layout/Strip'
import { PresetsSide } from './presets/PresetsSide'
import { PictureWorks } from './picture/PictureWorks'
import { Viewer } from './picture/Viewer'
import { bareAtom, commandsAtom } from './state/atoms'
import type { Feature, Store } from './state/types'
import { ToneRail } from './tone/ToneRail'
import { useFileDrop } from '../shell/useFileDrop'
import { takeSettings } from './deliver/takeSettings'
import { useBench } from './state/bench'
import { useBenchStore } from './useBenchStore'

type Place = 'drawer' | 'Overlay' | 'Beside' | 'Foot' | 'Panel' | 'Works'
/** What the features have for a place. */
const part = <K extends Place>(name: K) => FEATURES.flatMap((f) => f[name] ?? []) as NonNullable<Feature[K]>[]

const SIDES = { strip: Strip, history: HistorySide, presets: PresetsSide } as const
const drawers = part('drawer')
const overlays = [...part('Overlay'), AsideOverlay]
const besides = part('Beside')
const feet = part('Foot')
const panels = part('Panel')
const works = part('Works')

/** One version of one frame, being developed. */
export function Bench({
  page,
  shoot,
  last,
}: {
  page: FramePage
  shoot: ShootPage
  last: { current?: Store }
}) {
  const store = useBenchStore(page, shoot, last)
  return (
    <Provider store={store}>
      <PictureWorks />
      {works.map((Works, i) => (
        <Works key={i} />
      ))}
      <Layout />
    </Provider>
  )
}

function Layout() {
  const bare = useAtomValue(bareAtom)
  const Side = SIDES[useAtomValue(sideAtom)]
  useCommandKeys(useAtomValue(commandsAtom).list)
  const bench = useBench()
  const { over, listeners } = useFileDrop(({ files }) => files[0] && void takeSettings(bench, files[0]))
  return (
    <div
      className={`flex h-full flex-col ${over ? 'outline outline-safe -outline-offset-2' : ''}`}
      {...listeners}
    >
      {!bare && <BenchHeader />}
      <div className="flex min-h-0 flex-1">
        {!bare && <BenchDrawer drawers={drawers} />}
        <main className="flex min-w-0 flex-1 flex-col">
          <ManyLine />
          <div className="flex min-h-0 flex-1">
            <Viewer overlays={overlays} />
            {besides.map((Beside, i) => (
              <Beside key={i} />
            ))}
          </div>
          {!bare && <BenchFoot tools={feet} />}
          <OpeningProblem />
        </main>
        {!bare && <Side />}
      </div>
      {!bare && <ToneRail />}
      {panels.map((Panel, i) => (
        <Panel key={i} />
      ))}
    </div>
  )
}
