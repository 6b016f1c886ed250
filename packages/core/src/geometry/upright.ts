export interface Size {
  width: number
  height: number
}

/** From 5 on rows are columns. */
const lying = (orientation: number) => orientation >= 5

/** Size of a picture once it stands upright. */
export const uprightSize = ({ width, height }: Size, orientation: number): Size =>
  lying(orientation) ? { width: height, height: width } : { width, height }

/** The orientation that turns back what another has turned. */
export const turnsBack = (orientation: number): number =>
  orientation === 6 ? 8 : orientation === 8 ? 6 : orientation

/**
 * Where pixel (x, y) of a picture of `size` comes to lie when turned upright (Exif 3: orientation says which side of
 * the stored picture is the top and the left one).
 */
export function turned(x: number, y: number, { width, height }: Size, orientation: number): [number, number] {
  const right = width - 1 - x
  const down = height - 1 - y
  switch (orientation) {
    case 2:
      return [right, y]
    case 3:
      return [right, down]
    case 4:
      return [x, down]
    case 5:
      return [y, x]
    case 6:
      return [down, x]
    case 7:
      return [down, right]
    case 8:
      return [y, right]
    default:
      return [x, y]
  }
}
