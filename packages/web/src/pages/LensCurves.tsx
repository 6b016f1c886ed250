import { bends, curvesOf, type LensProfile } from '@dunkelkammer/core'
import { Chart, LinearScale, LineController, LineElement, PointElement } from 'chart.js'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Select } from '../controls/Select'
import { focalWord } from './lensWords'

Chart.register(LineController, LineElement, PointElement, LinearScale)

interface Line {
  colour: string
  values: readonly { x: number; y: number }[]
}

const STEPS = Array.from({ length: 41 }, (_, i) => i / 40)
/** Half the diagonal of a picture of 24 megapixels, 3 : 2. */
const HALF_24 = 3605
const unique = (values: readonly number[]) => [...new Set(values)].sort((a, b) => a - b)

/** What a profile knows, drawn over the distance from the middle of the picture. */
export function LensCurves({ profile }: { profile: LensProfile }) {
  const focals = useMemo(
    () => unique([...profile.distortion, ...profile.fringes, ...profile.fallOff].map((p) => p.focal)),
    [profile],
  )
  const apertures = useMemo(() => unique(profile.fallOff.map((p) => p.aperture)), [profile])
  const [focal, setFocal] = useState(focals[0])
  const [aperture, setAperture] = useState(apertures[0])
  useEffect(() => {
    setFocal(focals[0])
    setAperture(apertures[0])
  }, [focals, apertures])
  const curves = useMemo(
    () => curvesOf(profile, { focal, aperture, crop: profile.crop }),
    [profile, focal, aperture],
  )
  const over = (value: (r: number) => number) => STEPS.map((r) => ({ x: r * 100, y: value(r) }))
  return (
    <>
      <div className="mb-4 flex flex-wrap gap-x-8">
        {focals.length > 1 ? (
          <Select
            label="Focal length"
            value={`${focal}`}
            options={focals.map((f) => ({ value: `${f}`, label: focalWord(f) }))}
            onChange={(f) => setFocal(Number(f))}
          />
        ) : (
          <p className="py-1.5 text-quiet">{focalWord(focals[0])}</p>
        )}
        {apertures.length > 1 && (
          <Select
            label="Aperture"
            value={`${aperture}`}
            options={apertures.map((a) => ({ value: `${a}`, label: `f/${a}` }))}
            onChange={(a) => setAperture(Number(a))}
          />
        )}
      </div>
      {profile.distortion.length > 0 && (
        <Plot
          title="Distortion"
          unit="%, radius on the sensor against the ideal one"
          lines={[
            {
              colour: '#f5f5f5',
              values: over((r) => (curves.distortion(r) / curves.distortion(0) - 1) * 100),
            },
          ]}
          about={
            bends(profile.projection)
              ? 'Beside what a fisheye does by its design.'
              : 'Below 0 it is a barrel, above 0 a pincushion.'
          }
        />
      )}
      {profile.fringes.length > 0 && (
        <Plot
          title="Lateral fringes"
          unit="px of a picture of 24 megapixels, red and blue against green"
          lines={[
            { colour: '#e06060', values: over((r) => (curves.red(r) - 1) * r * HALF_24) },
            { colour: '#6f8df0', values: over((r) => (curves.blue(r) - 1) * r * HALF_24) },
          ]}
        />
      )}
      {profile.fallOff.length > 0 && (
        <Plot
          title="Fall-off"
          unit="EV against the middle"
          lines={[{ colour: '#f5f5f5', values: over((r) => Math.log2(curves.fallOff(r))) }]}
        />
      )}
    </>
  )
}

function Plot({
  title,
  unit,
  lines,
  about,
}: {
  title: string
  unit: string
  lines: readonly Line[]
  about?: string
}) {
  const canvas = useRef<HTMLCanvasElement>(null)
  useEffect(() => {
    const grid = { color: '#303030', tickColor: '#303030' }
    const ticks = { color: '#a3a3a3', font: { family: 'inherit', size: 11 } }
    const chart = new Chart(canvas.current!, {
      type: 'line',
      data: {
        datasets: lines.map(({ colour, values }) => ({
          data: [...values],
          borderColor: colour,
          borderWidth: 1.5,
          pointRadius: 0,
        })),
      },
      options: {
        animation: false,
        responsive: true,
        maintainAspectRatio: false,
        parsing: false,
        scales: {
          x: {
            type: 'linear',
            min: 0,
            max: 100,
            grid,
            ticks: { ...ticks, stepSize: 20, callback: (v) => `${v} %` },
          },
          y: { type: 'linear', grid, ticks: { ...ticks, maxTicksLimit: 6 }, grace: '10%' },
        },
      },
    })
    return () => chart.destroy()
  }, [lines])
  const last = lines.map((l) => l.values[l.values.length - 1].y.toFixed(2)).join(' and ')
  return (
    <section className="mb-6" aria-label={title}>
      <h3 className="text-bright">{title}</h3>
      <p className="mb-1 text-[12px] text-quiet">
        {unit}. {about}
      </p>
      <div className="h-44">
        <canvas ref={canvas} role="img" aria-label={`${title}: ${last} in the corner`} />
      </div>
    </section>
  )
}
