/** Something that was found in a small picture. */
export interface Rough {
  /** Which places, 0 or 1. */
  inside: Uint8Array
  /** How sure that is, 0..1; 0 where nothing was found. */
  confidence: number
  /** Contrast of the edge that holds it, as `contrasts` gives them. */
  end: number
}
