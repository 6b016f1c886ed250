import { closeSync, openSync, readFileSync, rmSync, writeSync } from 'node:fs'
import { Failure } from './failure'

/** Whether a process is there, as far as can be told. */
function lives(process_: number): boolean {
  try {
    process.kill(process_, 0)
    return true
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM'
  }
}

/** Keeps two shells from the same run. */
export class RunLock {
  private constructor(private readonly path: string) {}

  /** @throws Failure where another one has it */
  static take(path: string): RunLock {
    for (;;)
      try {
        const file = openSync(path, 'wx')
        writeSync(file, String(process.pid))
        closeSync(file)
        return new RunLock(path)
      } catch (error) {
        if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error
        const holder = Number(readFileSync(path, 'utf8'))
        if (holder > 0 && lives(holder)) throw new Failure(1, 'Another shell is at this run already.')
        // left by one that was killed
        rmSync(path, { force: true })
      }
  }

  release(): void {
    rmSync(this.path, { force: true })
  }
}
