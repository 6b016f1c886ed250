import {
  closeSync,
  existsSync,
  fsyncSync,
  openSync,
  readFileSync,
  renameSync,
  rmSync,
  writeSync,
} from 'node:fs'
import type { Journal, Part } from './part'

/** The journal of a run in a file of its own: one line of JSON for each change, the first for what was asked. */
export class FileJournal implements Journal {
  private constructor(
    private readonly path: string,
    private readonly file: number,
    private readonly all: Part[],
  ) {}

  /**
   * Opens the journal of a run, or begins it.
   * @param order what was asked for; a journal of another order is begun anew
   */
  static open(path: string, order: unknown, fresh: () => readonly Part[]): FileJournal {
    const asked = JSON.stringify(order)
    const known = existsSync(path) ? readLines(path) : []
    let all: Part[]
    if (known.length > 1 && JSON.stringify(known[0]) === asked) {
      all = known[1] as Part[]
      for (const line of known.slice(2) as Partial<Part>[]) Object.assign(all[line.number!], nulled(line))
    } else all = fresh().map((p) => ({ ...p }))
    // written anew as a whole: the last line may have been cut short
    const partial = `${path}.new`
    const file = openSync(partial, 'w')
    writeSync(file, `${asked}\n${JSON.stringify(all)}\n`)
    fsyncSync(file)
    renameSync(partial, path)
    return new FileJournal(path, file, all)
  }

  parts(): readonly Part[] {
    return this.all
  }

  set(number: number, values: Partial<Omit<Part, 'number'>>): void {
    // what is undefined is written too: it takes something away
    const line = { number, ...Object.fromEntries(Object.entries(values).map(([k, v]) => [k, v ?? null])) }
    writeSync(this.file, JSON.stringify(line) + '\n')
    fsyncSync(this.file)
    Object.assign(this.all[number], values)
  }

  close(): void {
    closeSync(this.file)
  }

  /** Ends a run of which nothing is left to do. */
  remove(): void {
    this.close()
    rmSync(this.path, { force: true })
  }
}

const nulled = (line: Partial<Part>) =>
  Object.fromEntries(Object.entries(line).map(([k, v]) => [k, v ?? undefined]))

/** Lines that are whole; the last may have been cut short by a stop. */
function readLines(path: string): unknown[] {
  const out: unknown[] = []
  for (const line of readFileSync(path, 'utf8').split('\n')) {
    if (!line) continue
    try {
      out.push(JSON.parse(line))
    } catch {
      break
    }
  }
  return out
}
