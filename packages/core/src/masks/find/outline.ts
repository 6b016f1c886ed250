/**
 * The borders of what passes, as closed ways along the sides of its places, from corner to corner.
 * @returns ways as x, y of their corners; places are 1 wide, the first begins at 0, 0
 */
export function outlinesOf(
  { width, height }: { width: number; height: number },
  passes: (i: number) => boolean,
): [x: number, y: number][][] {
  const wide = width + 1
  /** What passes, with a line of what does not on all sides. */
  const padded = width + 2
  const inside = new Uint8Array(padded * (height + 2))
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) if (passes(y * width + x)) inside[(y + 1) * padded + x + 1] = 1
  /** From each corner the sides that leave it, what passes on their right: 1 right, 2 down, 4 left, 8 up. */
  const sides = new Uint8Array(wide * (height + 1))
  for (let y = 0; y <= height; y++)
    for (let x = 0; x <= width; x++) {
      const at = (y + 1) * padded + x + 1
      const [here, left, above] = [inside[at], inside[at - 1], inside[at - padded]]
      if (here === left && here === above) continue
      // along the top of a place to the right, along its left side up
      if (here && !above) sides[y * wide + x] |= 1
      if (here && !left) sides[(y + 1) * wide + x] |= 8
      if (left && !here) sides[y * wide + x] |= 2
      if (above && !here) sides[y * wide + x + 1] |= 4
    }
  const steps = { 1: 1, 2: wide, 4: -1, 8: -wide } as const
  const ways: [number, number][][] = []
  for (let start = 0; start < sides.length; start++)
    while (sides[start] !== 0) {
      const way: [number, number][] = []
      let [at, before] = [start, 0]
      do {
        // at a corner where two places touch it turns to the right: they are two
        const turns =
          before === 0
            ? [1, 2, 4, 8]
            : [before * 2, before, before / 2].map((d) => (d > 8 ? 1 : d < 1 ? 8 : d))
        const side = turns.find((d) => (sides[at] & d) !== 0) as 1 | 2 | 4 | 8
        sides[at] &= ~side
        if (side !== before) way.push([at % wide, Math.floor(at / wide)])
        before = side
        at += steps[side]
      } while (at !== start)
      ways.push(way)
    }
  return ways
}
