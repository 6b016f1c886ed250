import { parseArgs, type ParseArgsConfig } from 'node:util'
import { sentence, usage } from './failure'

/** The words of a command, read by its options. @throws Failure 2 where it does not know one of them */
export function readWords<T extends ParseArgsConfig>(config: T): ReturnType<typeof parseArgs<T>> {
  try {
    return parseArgs(config)
  } catch (error) {
    throw usage(sentence((error as Error).message.split('.')[0]))
  }
}
