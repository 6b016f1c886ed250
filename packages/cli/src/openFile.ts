import { adapt, nodeCodecs, type Engine, type Picture } from '@dunkelkammer/engine/node'
import { wordBlocks, wordsOf, type XmpWords } from '@dunkelkammer/engine/words'
import { Failure, sentence, unreadable } from './failure'
import { readInput } from './read'

/** Opens a file in an engine, with what it says in words. @throws Failure 3 where it cannot be read */
export async function openWithWords(
  engine: Engine,
  file: string,
): Promise<{ picture: Picture; said: XmpWords }> {
  const bytes = new Uint8Array(await readInput(file))
  try {
    const { dng, format, moving } = await adapt(bytes, nodeCodecs)
    const picture = await engine.open(dng)
    if (moving) console.error(`${file}: This is a moving picture. Its first picture is taken.`)
    return { picture, said: wordsOf(wordBlocks(bytes, format), picture.frame.metadata) }
  } catch (error) {
    if (error instanceof Failure) throw error
    throw unreadable(file, sentence((error as Error).message))
  }
}

/** Opens a file in an engine. @throws Failure 3 where it cannot be read */
export const openFile = async (engine: Engine, file: string): Promise<Picture> =>
  (await openWithWords(engine, file)).picture
