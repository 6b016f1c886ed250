/** Adds a whole number to bytes: low seven bits first, its sign as the lowest (zigzag, as in Protocol Buffers). */
export function putNumber(out: number[], n: number): void {
  let left = n < 0 ? -2 * n - 1 : 2 * n
  for (; left > 127; left = Math.floor(left / 128)) out.push((left % 128) | 128)
  out.push(left)
}

/** The whole numbers that bytes hold. @param damaged the error where they end amid one */
export function numbersIn(bytes: Uint8Array, start: number, damaged: () => Error): number[] {
  const numbers: number[] = []
  for (let at = start; at < bytes.length;) {
    let [value, scale] = [0, 1]
    let byte: number
    do {
      if (at >= bytes.length || scale > 2 ** 35) throw damaged()
      byte = bytes[at++]
      value += (byte & 127) * scale
      scale *= 128
    } while (byte > 127)
    numbers.push(value % 2 === 1 ? -(value + 1) / 2 : value / 2)
  }
  return numbers
}
