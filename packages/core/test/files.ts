import type { DngContents } from '@dunkelkammer/demo'
import { address, rasterBytes, type Raster, type Scratch } from '../src/memory'
import { sensorShape } from '../src/pipeline'
import type { Kernels } from '../src/kernels/kernels'
import { decodeSegment, mendListed, readDng, type SensorFrame } from '../src/raw'

/** A small file with everything in its usual place. */
export const contents = (part: Partial<DngContents> = {}): DngContents => ({
  width: 64,
  height: 48,
  mosaic: Uint16Array.from({ length: 64 * 48 }, (_, i) => 600 + (i % 900)),
  bits: 14,
  black: [512, 513, 514, 515],
  white: 15800,
  pattern: [0, 1, 1, 2],
  calibrations: [{ illuminant: 21, colorMatrix: [0.7, -0.2, -0.1, -0.4, 1.2, 0.2, -0.1, 0.2, 0.6] }],
  asShotNeutral: [0.5, 1, 0.75],
  noise: { a: 3e-5, b: 1e-8 },
  make: 'Ostrava & Linde',
  model: 'Veldrom 3',
  lens: 'Veldrom 28 mm f/2.8',
  iso: 400,
  exposureTime: [1, 320],
  fNumber: 5.6,
  focalLength: 28,
  taken: '2026-05-14T06:52:11',
  artist: 'Zoë Ångström',
  compression: 'lossless-jpeg',
  tile: 32,
  ...part,
})

/** A file read and decoded into scratch, as the engine does it. */
export function decodeFile(
  kernels: Kernels,
  scratch: Scratch,
  bytes: Uint8Array,
): { frame: SensorFrame; sensor: Raster; line: (plane: number, y: number) => number[] } {
  const frame = readDng(bytes)
  const file = scratch.bytes(bytes)
  const shape = sensorShape(frame)
  const sensor: Raster = { ...shape, offset: scratch.take(rasterBytes(shape) + 64) }
  const table = frame.linearisation
    ? scratch.bytes(new Uint8Array(Uint16Array.from(frame.linearisation).buffer))
    : 0
  const tableSize = frame.linearisation?.length ?? 0
  for (const segment of frame.segments)
    decodeSegment(kernels, scratch, {
      segment,
      storage: frame.storage,
      file,
      target: sensor,
      table,
      tableSize,
    })
  if (frame.layout === 'mosaic') mendListed(scratch.memory.buffer, sensor, frame)
  const line = (plane: number, y: number) => {
    const at = address(sensor, plane, 0, y)
    const { buffer } = scratch.memory
    return [
      ...(frame.storage.float
        ? new Float32Array(buffer, at, frame.width)
        : new Uint16Array(buffer, at, frame.width)),
    ]
  }
  return { frame, sensor, line }
}
