/** Times of one thing, milliseconds. */
export interface Times {
  median: number
  p95: number
}

export function summarise(times: readonly number[]): Times {
  const sorted = [...times].sort((a, b) => a - b)
  const at = (q: number) => sorted[Math.min(sorted.length - 1, Math.floor(q * sorted.length))]
  return { median: at(0.5), p95: at(0.95) }
}

/** Runs something several times and looks at the clock. */
export async function clock(times: number, run: (i: number) => unknown | Promise<unknown>): Promise<Times> {
  const out: number[] = []
  for (let i = 0; i < times; i++) {
    const start = performance.now()
    await run(i)
    out.push(performance.now() - start)
  }
  return summarise(out)
}

/** A copy of as many bytes, the least that anything could take. */
export function copyOf(bytes: number): () => void {
  const from = new Uint8Array(bytes).fill(1)
  const to = new Uint8Array(bytes)
  return () => to.set(from)
}

export interface Row {
  what: string
  ms: number
  budget?: number
  anchor: string
  anchorMs: number
}

const number = (v: number) => (v >= 100 ? v.toFixed(0) : v.toFixed(1))

/** One Markdown table. */
export function table(rows: readonly Row[]): string {
  const line = (r: Row) => {
    const met = r.budget === undefined ? '' : r.ms <= r.budget ? 'met' : 'not met'
    return `| ${r.what} | ${number(r.ms)} | ${r.budget ?? ''} | ${met} | ${r.anchor} | ${number(r.anchorMs)} | ${(r.ms / r.anchorMs).toFixed(1)} |`
  }
  return [
    '| what | ms | budget | | anchor | anchor ms | ratio |',
    '|---|--:|--:|---|---|--:|--:|',
    ...rows.map(line),
  ].join('\n')
}
