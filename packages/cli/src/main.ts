import { parseArgs } from 'node:util'
import { deliver } from './deliver'
import { develop } from './develop'
import { dust } from './dust'
import { Failure, usage } from './failure'
import { info } from './info'
import { mask } from './mask'
import { keepOutputForResults } from './output'
import { isDescribed, printSchema } from './schema'

const USAGE =
  'Use: info FILE…, dust FILE…, develop FILE… --to PATH-OR-DIR [options], deliver FILE… --delivery FILE.json --to DIR [options], mask FILE --area N [options], schema settings, schema preset or schema delivery.'

async function main(): Promise<void> {
  const [command, ...rest] = process.argv.slice(2)
  switch (command) {
    case 'info':
      return info(positionals('info', rest))
    case 'dust':
      return dust(positionals('dust', rest))
    case 'develop':
      return develop(rest)
    case 'deliver':
      return deliver(rest)
    case 'mask':
      return mask(rest)
    case 'schema':
      if (rest.length !== 1 || !isDescribed(rest[0]))
        throw usage('Use: schema settings, schema preset or schema delivery.')
      return printSchema(rest[0])
    default:
      throw usage(USAGE)
  }
}

function positionals(command: string, args: string[]): string[] {
  try {
    const { positionals: files } = parseArgs({ args, allowPositionals: true, options: {} })
    if (files.length > 0) return files
  } catch {
    // an option that does not exist
  }
  throw usage(`Use: ${command} FILE…`)
}

keepOutputForResults()
try {
  await main()
} catch (error) {
  const failure =
    error instanceof Failure ? error : new Failure(1, error instanceof Error ? error.message : String(error))
  // several failures may have been reported on the way
  if (failure.message) console.error(failure.message.replace(/\s*\n\s*/g, ' '))
  process.exitCode = failure.exitCode
}
