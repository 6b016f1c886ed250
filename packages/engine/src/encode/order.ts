import {
  bitsOf,
  iccProfile,
  LINEAR,
  sharpeningFor,
  spaces,
  USUAL_PPI,
  working,
  type Delivery,
  type OutputSpace,
  type SensorFrame,
} from '@dunkelkammer/core'
import type { DeliverRequest } from '../host/finished'
import { fileTable, readProfile } from '../profiles'
import type { SinkOrder } from './sinks'

/** Profile of an output space; the camera's own channels have none. */
export function profileOf(space: OutputSpace): Pick<SinkOrder, 'icc' | 'label'> {
  if (space === 'camera') return { icc: undefined, label: 'camera' }
  if (space === 'linear-rec2020') {
    const label = 'Rec. 2020 linear'
    return { icc: iccProfile(working, LINEAR, label), label }
  }
  return { icc: iccProfile(spaces[space]), label: spaces[space].label }
}

/** What a delivery asks of the pixels of a picture, and of the file around them, whatever its size. */
export interface PictureOrder {
  pixels: Pick<DeliverRequest, 'space' | 'table' | 'bits' | 'kernel' | 'sharpening'>
  file: Pick<SinkOrder, 'format' | 'bits' | 'icc' | 'label' | 'ppi'>
}

/** Pixels per inch of a delivery's file: as it wants, else as a finished picture says, else the usual. */
const ppiOf = ({ ppi }: Delivery['size'], { referred, metadata }: SensorFrame): number =>
  ppi ?? (referred === 'display' ? metadata.ppi : undefined) ?? USUAL_PPI

/**
 * @param frame the picture's file, for what the delivery leaves to it
 * @param profile bytes of the loaded profile, where the delivery wants one
 * @throws RawError where that cannot be used for files
 */
export async function orderOf(
  { format, size, space, sharpening }: Delivery,
  frame: SensorFrame,
  profile: Uint8Array | undefined,
): Promise<PictureOrder> {
  const bits = bitsOf(format)
  const ppi = ppiOf(size, frame)
  const how = {
    bits,
    kernel: 'kernel' in size ? size.kernel : undefined,
    sharpening: sharpeningFor(sharpening, ppi),
  }
  const file = { format, bits, ppi }
  if (typeof space === 'string') return { pixels: { ...how, space }, file: { ...file, ...profileOf(space) } }
  if (!profile) throw new Error('the profile of this delivery was not loaded')
  const [table, { name }] = await Promise.all([fileTable(profile, space), readProfile(profile)])
  return { pixels: { ...how, space: 'rec2020', table }, file: { ...file, icc: profile, label: name } }
}
