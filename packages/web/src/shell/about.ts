import type { Frame } from '@dunkelkammer/contract'
import { megabytes, shutter } from './format'

const HELD: Readonly<Record<number, string>> = {
  1: 'upright as stored',
  2: 'mirrored',
  3: 'upside down',
  4: 'upside down, mirrored',
  5: 'on its side, mirrored',
  6: 'turned 90° clockwise',
  7: 'on its side, mirrored',
  8: 'turned 90° anticlockwise',
}

/** "2026-05-14T06:52:11.31+02:00" as day, clock with its parts of a second, and zone. */
export function takenLine(taken: string): string {
  const m = taken.match(/^(\d{4}-\d\d-\d\d)T(\d\d:\d\d:\d\d)(\.\d+)?(Z|[+-]\d\d:\d\d)?$/)
  if (!m) return taken
  return [m[1], m[2] + (m[3] ?? ''), m[4] && (m[4] === 'Z' ? 'UTC' : `UTC${m[4]}`)].filter(Boolean).join('  ')
}

/** "52.0714° N  4.9031° E  2 m". */
export function placeLine({ north, east, height }: NonNullable<Frame['metadata']['position']>): string {
  const parts = [
    `${Math.abs(north).toFixed(4)}° ${north < 0 ? 'S' : 'N'}`,
    `${Math.abs(east).toFixed(4)}° ${east < 0 ? 'W' : 'E'}`,
  ]
  if (height !== undefined) parts.push(`${Math.round(height)} m`)
  return parts.join('  ')
}

/** Focal length with what it is on full 35 mm film, and how many times longer that is. */
export function focalLine({ focalLength: f, focalLength35: full }: Frame['metadata']): string {
  if (!f) return ''
  const own = `${Number(f.toFixed(1))} mm`
  return full ? `${own}, as ${full} mm (crop ${(full / f).toFixed(2)})` : own
}

/** Everything that is known of a taking and its file, by name. */
export function aboutRows(frame: Frame): [string, string][] {
  const { metadata: m } = frame
  const rows: [string, string | undefined | false][] = [
    ['Camera', [m.make, m.model].filter(Boolean).join(' ')],
    ['Lens', m.lens],
    ['Focal length', focalLine(m)],
    ['Shutter', m.exposureTime !== undefined && shutter(m.exposureTime)],
    ['Aperture', m.fNumber !== undefined && `f/${m.fNumber}`],
    ['ISO', m.iso?.toString()],
    ['Taken', m.taken && takenLine(m.taken)],
    ['Position', m.position && placeLine(m.position)],
    ['Label', m.label],
    ['Orientation', HELD[m.orientation]],
    [
      'Size',
      frame.width > 0 &&
        `${frame.width} × ${frame.height}, ${((frame.width * frame.height) / 1e6).toFixed(1)} MP`,
    ],
    [
      'File',
      frame.format === 'kept'
        ? `${megabytes(frame.fileSize)}, too large to be developed`
        : `${frame.format.toUpperCase()}, ${megabytes(frame.fileSize)}`,
    ],
    ['Moving picture', m.moving && 'its first picture'],
    ['Original at', frame.inPlace],
  ]
  return rows.filter((r): r is [string, string] => Boolean(r[1]))
}
