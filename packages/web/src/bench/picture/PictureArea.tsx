import { CameraPane } from '../before/CameraPane'
import { BesidePane } from '../before/BesidePane'
import { referenceName } from '../before/reference'
import { AsideNotice } from '../../desk/AsideNotice'
import { Divider } from '../before/Divider'
import { SpotPane } from '../refine/SpotPane'
import { CropFrame, LineGrid } from '../square/CropFrame'
import { Marks } from './Marks'
import { ReadingsPanel } from '../readings/Readings'
import { surroundColour } from './surround'
import { Viewer } from './Viewer'
import type { BenchParts } from '../useBench'

/** The picture with what lies over it, and what it is compared with beside it. */
export function PictureArea({ bench }: { bench: BenchParts }) {
  const {
    desk,
    stage,
    zoom,
    previewUrl,
    take,
    shown,
    framing,
    framed,
    geometry,
    views,
    setZoom,
    pan,
    adjust,
    squaring,
    cameraGeometry,
    answerOffer,
    development,
    aside,
    pins,
    picture,
    setPane,
    surround,
    bare,
    before,
    beside,
    held,
    reading,
    setReading,
    readings,
    setPointer,
    grid,
    guides,
    outside,
    divider,
    setDivider,
    spot,
    setSpot,
    spotOpen,
    setSpotOpen,
    reference,
    offered,
    square,
    tool,
    drawn,
    under,
    pinned,
  } = bench
  return (
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
  )
}
