/** An ISO that was typed; nothing where it is none. */
export function isoOf(text: string): number | undefined {
  const value = Math.round(Number(text))
  return text.trim() === '' || !(value >= 1 && value <= 10000000) ? undefined : value
}
