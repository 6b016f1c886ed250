/** A place of the picture, as fractions of its width and height. */
export interface Place {
  x: number
  y: number
}

export const TOOL_IDS = [
  'grey',
  'curve',
  'hue',
  'interest',
  'pin',
  'centre',
  'horizon',
  'upright',
  'levelled',
  'straight',
  'crop',
  'air',
  'spot',
] as const
export type ToolId = (typeof TOOL_IDS)[number]

/** Something in the hand that works on places of the picture. */
export interface PictureTool {
  id: ToolId
  /** What the picture is called while it is in the hand. */
  label: string
  /** A place is taken: by a click, or by Enter with the cross. */
  press?(at: Place): void
  /** A place is taken hold of and moved; up and right are positive, in pixels of the screen. */
  grasp?(at: Place): { move(at: Place, by: { right: number; up: number }): void; end(): void }
  /** The pointer is over a place, or has left. */
  hover?(at: Place | undefined): void
}
