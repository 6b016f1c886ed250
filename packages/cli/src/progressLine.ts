import { isEnded, type Part } from '@dunkelkammer/engine/deliveries'

const WIDTH = 30

/** A bar on standard error with how far a run has come; nothing where nobody looks at it. */
export function progressLine(parts: readonly Part[]) {
  const { stderr } = process
  const shares = new Map(parts.map((p) => [p.number, isEnded(p) ? 1 : 0]))
  const before = [...shares.values()].reduce((a, b) => a + b, 0)
  const began = Date.now()
  return {
    show(part: Part, share: number): void {
      shares.set(part.number, share)
      if (!stderr.isTTY) return
      const done = [...shares.values()].reduce((a, b) => a + b, 0)
      const full = Math.floor((done / parts.length) * WIDTH)
      const ended = [...shares.values()].filter((s) => s === 1).length
      const seconds = (Date.now() - began) / 1000
      const left = done > before ? ((parts.length - done) * seconds) / (done - before) : 0
      const time = left >= 90 ? `${Math.ceil(left / 60)} min` : `${Math.ceil(left)} s`
      stderr.write(
        `\r[${'#'.repeat(full).padEnd(WIDTH, '.')}] ${ended} of ${parts.length}, ${time} left \x1b[K`,
      )
    },
    clear(): void {
      if (stderr.isTTY) stderr.write('\r\x1b[K')
    },
  }
}
