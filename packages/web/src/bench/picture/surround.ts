/** Brightness of what surrounds the picture, neutral in every case. */
export const SURROUNDS = [
  { id: 'black', label: 'Near-black', colour: '#0c0c0c' },
  { id: 'grey', label: 'Mid grey', colour: '#777777' },
  { id: 'paper', label: 'Paper white', colour: '#ececec' },
] as const
export type Surround = (typeof SURROUNDS)[number]['id']

export const SURROUND_IDS: readonly Surround[] = SURROUNDS.map((s) => s.id)

export const surroundColour = (id: Surround): string => SURROUNDS.find((s) => s.id === id)!.colour
