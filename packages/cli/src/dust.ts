import { startDevelopment } from '@dunkelkammer/core'
import { builtEngineFiles, createEngine, type Engine } from '@dunkelkammer/engine/node'
import { describeEach } from './each'
import { sentence, unreadable } from './failure'
import { openFile } from './openFile'

/** Digits that are told: of places, and of shares. */
const exact = (v: number, digits: number) => Number(v.toFixed(digits))

/** Dust that is seen in a file. Places and radii in long edges, sensor coordinates. */
async function lookAt(engine: Engine, file: string): Promise<Record<string, unknown>> {
  const picture = await openFile(engine, file)
  try {
    const found = await picture.ask('dust', startDevelopment())
    const dust = found.map(({ x, y, radius, depth, confidence }) => ({
      ...{ x: exact(x, 6), y: exact(y, 6), radius: exact(radius, 6) },
      ...{ depth: exact(depth, 3), confidence: exact(confidence, 3) },
    }))
    return { file, dust }
  } catch (error) {
    throw unreadable(file, sentence((error as Error).message))
  } finally {
    engine.close(picture)
  }
}

/** Prints a JSON array with one object for each file that can be read. */
export async function dust(files: readonly string[]): Promise<void> {
  const engine = createEngine(builtEngineFiles())
  try {
    await describeEach(files, (file) => lookAt(engine, file))
  } finally {
    engine.stop()
  }
}
