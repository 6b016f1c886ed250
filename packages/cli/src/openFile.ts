import { adapt, nodeCodecs, type Engine, type Picture } from '@dunkelkammer/engine/node'
import { sentence, unreadable } from './failure'
import { readInput } from './read'

/** Opens a file in an engine. @throws Failure 3 where it cannot be read */
export async function openFile(engine: Engine, file: string): Promise<Picture> {
  const bytes = await readInput(file)
  try {
    const { dng } = await adapt(new Uint8Array(bytes), nodeCodecs)
    return await engine.open(dng)
  } catch (error) {
    throw unreadable(file, sentence((error as Error).message))
  }
}
