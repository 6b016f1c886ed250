import { surroundColour, type Surround } from '../picture/surround'
import { placeOfWhole, type Geometry } from '../picture/geometry'

/** The camera's own embedded picture, laid out like the development beside it: the same place at the same size. */
export function CameraPane(props: { url: string; geometry?: Geometry; surround: Surround; smooth: boolean }) {
  const { url, geometry: g } = props
  return (
    <section
      aria-label="The camera’s own picture"
      className="relative min-h-0 min-w-0 flex-1 overflow-hidden border-l border-line"
      style={{ backgroundColor: surroundColour(props.surround) }}
    >
      {g && (
        <img
          src={url}
          alt="As the camera developed it"
          draggable={false}
          className="absolute max-w-none"
          style={{ ...placeOfWhole(g), imageRendering: props.smooth ? 'auto' : 'pixelated' }}
        />
      )}
      <p className="pointer-events-none absolute top-3 left-3 bg-night/85 px-2 py-1 text-bright">
        Camera’s picture
      </p>
    </section>
  )
}
