/** Above this share of the white level a channel may be clipped, and its ratio to the others means nothing. */
const TOO_BRIGHT = 0.97
/** Below this share all is noise. */
const TOO_DARK = 0.002

/**
 * The neutral that makes a sampled place grey.
 * @param sample mean of the camera's channels there, white level 1
 */
export function neutralFromSample(
  sample: readonly [number, number, number],
): { neutral: [number, number, number] } | { problem: string } {
  const top = Math.max(...sample)
  if (top > TOO_BRIGHT)
    return { problem: 'This place is clipped; its colour is not known. Pick a darker grey.' }
  if (top < TOO_DARK || Math.min(...sample) <= 0)
    return { problem: 'This place is too dark to tell its colour. Pick a lighter grey.' }
  return { neutral: [sample[0] / top, sample[1] / top, sample[2] / top] }
}
