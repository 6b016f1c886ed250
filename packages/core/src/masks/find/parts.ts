/** What hangs together: places that are beside one another and let one another in. */
export interface Parts {
  /** Of each place the number of its part; -1 where it is in none. */
  part: Int32Array
  /** The places of each part. */
  lists: number[][]
}

/** The parts that hold some of the places looked from. @param open whether a place may be in a part at all */
export function partsFrom(
  { width, height }: { width: number; height: number },
  from: Iterable<number>,
  open: (i: number) => boolean,
): Parts {
  const n = width * height
  const part = new Int32Array(n).fill(-1)
  const lists: number[][] = []
  for (const first of from) {
    if (part[first] >= 0 || !open(first)) continue
    const id = lists.length
    const list = [first]
    part[first] = id
    const look = (j: number) => {
      if (part[j] >= 0 || !open(j)) return
      part[j] = id
      list.push(j)
    }
    for (let k = 0; k < list.length; k++) {
      const i = list[k]
      const x = i % width
      if (x > 0) look(i - 1)
      if (x < width - 1) look(i + 1)
      if (i >= width) look(i - width)
      if (i < n - width) look(i + width)
    }
    lists.push(list)
  }
  return { part, lists }
}

/** All places, in order. */
export const all = ({ width, height }: { width: number; height: number }): Iterable<number> =>
  Array(width * height).keys()

/** Whether a place lies at an end of the picture. */
export function isAtEnd({ width, height }: { width: number; height: number }, i: number): boolean {
  const x = i % width
  return x === 0 || x === width - 1 || i < width || i >= width * (height - 1)
}

/** Whether a place lies beside one that passes. */
export function isBeside(
  { width, height }: { width: number; height: number },
  i: number,
  passes: (j: number) => boolean,
): boolean {
  const x = i % width
  return (
    (x > 0 && passes(i - 1)) ||
    (x < width - 1 && passes(i + 1)) ||
    (i >= width && passes(i - width)) ||
    (i < width * (height - 1) && passes(i + width))
  )
}
