import { WAVE_COLUMNS, WAVE_LEVELS } from '@dunkelkammer/core'
import { useLayoutEffect, useRef } from 'react'

/** Levels of the picture over its columns: each channel in its colour, brighter where there is more. */
export function Waveform({ counts }: { counts?: Uint32Array }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  useLayoutEffect(() => {
    const context = canvas.current!.getContext('2d')!
    const image = context.createImageData(WAVE_COLUMNS, WAVE_LEVELS)
    if (counts) {
      let sum = 0
      for (const n of counts) sum += n
      // a column whose levels are spread evenly is in the middle of the brightness
      const scale = (160 * 3 * WAVE_COLUMNS * 6) / Math.max(sum, 1)
      for (let level = 0; level < WAVE_LEVELS; level++)
        for (let x = 0; x < WAVE_COLUMNS; x++) {
          const to = ((WAVE_LEVELS - 1 - level) * WAVE_COLUMNS + x) * 4
          for (let c = 0; c < 3; c++)
            image.data[to + c] = Math.sqrt(counts[(c * WAVE_LEVELS + level) * WAVE_COLUMNS + x] * scale) * 9
          image.data[to + 3] = 255
        }
    }
    context.putImageData(image, 0, 0)
  }, [counts])
  return (
    <canvas
      ref={canvas}
      width={WAVE_COLUMNS}
      height={WAVE_LEVELS}
      role="img"
      aria-label="Waveform: levels of red, green and blue over the columns of the picture"
      className="h-[84px] w-full bg-night"
    />
  )
}
