import { HUE_PARTS, type HueNode } from '@dunkelkammer/core'
import { useRef, type KeyboardEvent, type PointerEvent } from 'react'

const HEIGHT = 46

/** The circle of hues laid flat, as Oklab has them. */
const STRIP = `linear-gradient(to right, ${Array.from({ length: 25 }, (_, i) => `oklch(0.72 0.13 ${i * 15})`).join(', ')})`

/** Hues of the picture, and the nodes on them. */
export function HueStrip(props: {
  nodes: readonly HueNode[]
  chosen: number
  hues?: Float32Array
  onChoose(node: number): void
  onMove(node: number, hue: number): void
  onEnd(): void
}) {
  const { nodes, chosen, hues, onChoose, onMove, onEnd } = props
  const box = useRef<HTMLDivElement>(null)
  const held = useRef<{ index: number; off: number }>(undefined)
  const hueAt = (event: PointerEvent) => {
    const r = box.current!.getBoundingClientRect()
    return Math.min(Math.max(((event.clientX - r.left) / r.width) * 360, 0), 360)
  }
  const keys = (event: KeyboardEvent, i: number) => {
    const step = event.shiftKey ? 10 : 1
    const by = { ArrowLeft: -step, ArrowRight: step }[event.key]
    if (by === undefined) return
    event.preventDefault()
    event.stopPropagation()
    onMove(i, (nodes[i].hue + by + 360) % 360)
  }
  let path = `M0 ${HEIGHT}`
  hues?.forEach((v, i) => {
    path += `L${((i + 0.5) / HUE_PARTS) * 360} ${(HEIGHT - Math.sqrt(v) * (HEIGHT - 4)).toFixed(1)}`
  })
  return (
    <div
      ref={box}
      className="relative touch-none"
      role="group"
      aria-label="Strip of hues"
      onPointerMove={(e) => {
        const h = held.current
        if (h) onMove(h.index, (Math.round(hueAt(e) - h.off) + 360) % 360)
      }}
      onPointerUp={() => {
        if (held.current) onEnd()
        held.current = undefined
      }}
    >
      <svg
        viewBox={`0 0 360 ${HEIGHT}`}
        preserveAspectRatio="none"
        className="block h-[46px] w-full bg-night"
        aria-hidden
      >
        {hues && <path d={`${path}L360 ${HEIGHT}Z`} fill="#5c5c5c" />}
        {nodes[chosen] &&
          [-360, 0, 360].map((turn) => (
            <path
              key={turn}
              d={`M${nodes[chosen].hue - nodes[chosen].width + turn} ${HEIGHT}L${nodes[chosen].hue + turn} 2L${nodes[chosen].hue + nodes[chosen].width + turn} ${HEIGHT}`}
              fill="none"
              stroke="#dedede"
              vectorEffect="non-scaling-stroke"
            />
          ))}
      </svg>
      <div className="h-2.5 w-full" style={{ background: STRIP }} aria-hidden />
      {nodes.map((n, i) => (
        <button
          key={i}
          role="slider"
          aria-label={`Hue node ${i + 1}`}
          aria-valuemin={0}
          aria-valuemax={360}
          aria-valuenow={Math.round(n.hue)}
          aria-valuetext={`${Math.round(n.hue)} degrees`}
          aria-current={i === chosen}
          className={`absolute bottom-[-3px] h-4 w-2.5 -translate-x-1/2 border ${
            i === chosen ? 'border-bright' : 'border-night'
          } ${n.shift || n.colour || n.light ? 'bg-safe' : 'bg-text'}`}
          style={{ left: `${(n.hue / 360) * 100}%` }}
          onFocus={() => onChoose(i)}
          onPointerDown={(e) => {
            if (e.button !== 0) return
            held.current = { index: i, off: hueAt(e) - n.hue }
            onChoose(i)
            e.currentTarget.setPointerCapture(e.pointerId)
          }}
          onKeyDown={(e) => keys(e, i)}
        />
      ))}
    </div>
  )
}
