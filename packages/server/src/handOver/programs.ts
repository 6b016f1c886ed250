import { spawn } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { dirname } from 'node:path'
import { z } from 'zod'
import { HttpProblem, StartProblem } from '../problem'

/** Stands for the file's path in a command. */
const FILE = '{file}'

const ProgramsSchema = z.record(z.string().trim().min(1).max(80), z.array(z.string().min(1)).min(1).max(50))
type Commands = z.output<typeof ProgramsSchema>

/**
 * The programs that files may be given to. Their commands come from whoever starts the server: a page must not be able to
 * have this machine run what it likes.
 */
export class Programs {
  constructor(private readonly commands: Commands = {}) {}

  /** @param file JSON: by name a command and its arguments. @throws StartProblem where it is not */
  static read(file: string): Programs {
    try {
      return new Programs(ProgramsSchema.parse(JSON.parse(readFileSync(file, 'utf8'))))
    } catch {
      throw new StartProblem(
        `${file} names no programs. It needs to be JSON such as {"Retouching": ["retouch", "${FILE}"]}.`,
      )
    }
  }

  get names(): string[] {
    return Object.keys(this.commands)
  }

  /** @throws HttpProblem 404 where none has that name */
  require(name: string): void {
    if (!Object.hasOwn(this.commands, name))
      throw new HttpProblem(404, 'not-found', `The server was started without a program called “${name}”.`)
  }

  /**
   * Starts a program and does not wait for it; it outlives the server.
   * @param onProblem told by a sentence where it cannot be started, or ends with an error
   * @throws HttpProblem 404 where none has that name
   */
  start(name: string, file: string, onProblem: (sentence: string) => void): void {
    this.require(name)
    const [command, ...words] = this.commands[name]
    const named = words.some((word) => word.includes(FILE))
    const all = named ? words.map((word) => word.replaceAll(FILE, () => file)) : [...words, file]
    const child = spawn(command, all, { cwd: dirname(file), detached: true, stdio: 'ignore' })
    child.on('error', () => onProblem(`“${name}” could not be started: is its command right?`))
    child.on('exit', (code) => {
      if (code) onProblem(`“${name}” ended with error ${code}.`)
    })
    child.unref()
  }
}
