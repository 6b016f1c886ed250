import { projectRoot } from '@dunkelkammer/engine/node'
import { join, resolve } from 'node:path'
import { StartProblem, toProblem } from '../problem'
import { backupLibrary } from './backup'
import { checkBackup, restoreLibrary } from './restore'

const USAGE = 'Use: npm run backup -- TO, npm run backup -- --check FOLDER, or npm run restore -- FROM.'
const library = resolve(process.env.DUNKELKAMMER_LIBRARY ?? join(projectRoot(), 'library'))
const report = (line: string) => console.log(line)

async function main(): Promise<number> {
  const [command, ...rest] = process.argv.slice(2)
  const check = command === 'backup' && rest[0] === '--check'
  const [named, ...more] = check ? rest.slice(1) : rest
  if (!['backup', 'restore'].includes(command) || !named || more.length > 0) throw new StartProblem(USAGE)
  // npm runs scripts in the project's folder
  const folder = resolve(process.env.INIT_CWD ?? '.', named)
  const problems: string[] = []
  if (check) {
    const outcome = await checkBackup(folder)
    problems.push(...outcome.problems)
    report(`${outcome.files} files checked in ${folder}.`)
  } else if (command === 'backup') {
    const outcome = await backupLibrary(library, folder, report)
    problems.push(...outcome.problems)
    report(`${outcome.originals} originals are in ${folder}, ${outcome.copied} of them copied now.`)
  } else {
    const outcome = await restoreLibrary(folder, library, report)
    problems.push(...outcome.problems)
    report(`${outcome.files} files brought back and checked. The library is ${library}.`)
  }
  for (const problem of problems) console.error(problem)
  return problems.length > 0 ? 1 : 0
}

try {
  process.exitCode = await main()
} catch (error) {
  const { code, message } = toProblem(error)
  console.error(error instanceof StartProblem || code === 'failed' ? (error as Error).message : message)
  process.exitCode = 1
}
