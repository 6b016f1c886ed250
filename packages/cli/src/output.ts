const write = process.stdout.write.bind(process.stdout)

/** Prints a line of the result. */
export const print = (line: string): void => void write(`${line}\n`)

/**
 * Keeps everybody else off standard output: libraries that decode files, and the threads they run on, print there,
 * and whoever reads the result must not find that in it.
 */
export function keepOutputForResults(): void {
  process.stdout.write = ((_chunk: unknown, encoding?: unknown, done?: unknown) => {
    const callback = typeof encoding === 'function' ? encoding : done
    if (typeof callback === 'function') process.nextTick(callback as () => void)
    return true
  }) as typeof process.stdout.write
}
