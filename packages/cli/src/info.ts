import { developedSize, kelvinFromXy, readDng, xyFromNeutral } from '@dunkelkammer/core'
import { adapt, nodeCodecs } from '@dunkelkammer/engine/node'
import { describeEach } from './each'
import { sentence, unreadable } from './failure'
import { readInput } from './read'

/** What is known of a file without developing it. */
async function describe(file: string): Promise<Record<string, unknown>> {
  const bytes = await readInput(file)
  try {
    const { dng, format } = await adapt(new Uint8Array(bytes), nodeCodecs)
    const frame = readDng(dng)
    const { kelvin, tint } = kelvinFromXy(xyFromNeutral(frame.colour, frame.colour.asShotNeutral))
    return {
      file,
      bytes: bytes.length,
      format,
      ...developedSize(frame),
      sensor: { width: frame.width, height: frame.height, active: frame.active, picture: frame.picture },
      layout: frame.layout,
      pattern: frame.layout === 'mosaic' ? frame.pattern.colours.map((c) => 'RGB'[c]).join('') : null,
      storage: frame.storage,
      black: frame.levels.black,
      white: frame.levels.white,
      baselineExposure: frame.baselineExposure,
      rendering: frame.profile ? (frame.profile.name ?? 'unnamed') : null,
      opcodes: [...frame.opcodes.stored, ...frame.opcodes.linear, ...frame.opcodes.demosaiced].map(
        (o) => o.kind,
      ),
      asShot: { neutral: frame.colour.asShotNeutral, kelvin: Math.round(kelvin), tint: Math.round(tint) },
      noise: frame.noise ?? null,
      preview: frame.preview ? { width: frame.preview.width, height: frame.preview.height } : null,
      metadata: frame.metadata,
    }
  } catch (error) {
    throw unreadable(file, sentence((error as Error).message))
  }
}

/** Prints a JSON array with one object for each file that can be read. */
export const info = (files: readonly string[]): Promise<void> => describeEach(files, describe)
