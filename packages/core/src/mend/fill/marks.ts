/** How many steps along lines and columns the places of a picture lie from the nearest that is marked. */
export function stepsFrom(marks: Uint8Array, width: number, height: number): Uint16Array {
  const steps = Uint16Array.from(marks, (m) => (m ? 0 : 0xffff))
  const lower = (i: number, from: number) => {
    if (steps[from] + 1 < steps[i]) steps[i] = steps[from] + 1
  }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x
      if (x > 0) lower(i, i - 1)
      if (y > 0) lower(i, i - width)
    }
  for (let y = height - 1; y >= 0; y--)
    for (let x = width - 1; x >= 0; x--) {
      const i = y * width + x
      if (x < width - 1) lower(i, i + 1)
      if (y < height - 1) lower(i, i + width)
    }
  return steps
}

/** How many marks lie in squares that lie within the picture. */
export function runningSums(marks: Uint8Array, width: number, height: number) {
  const across = width + 1
  const sums = new Uint32Array(across * (height + 1))
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = (y + 1) * across + x + 1
      sums[i] = sums[i - 1] + sums[i - across] - sums[i - across - 1] + marks[y * width + x]
    }
  return (x: number, y: number, side: number): number => {
    const [top, bottom] = [y * across + x, (y + side) * across + x]
    return sums[bottom + side] - sums[bottom] - sums[top + side] + sums[top]
  }
}
