import {
  bitsOf,
  iccProfile,
  LINEAR,
  sharpeningFor,
  spaces,
  working,
  type Delivery,
  type OutputSpace,
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

/**
 * @param profile bytes of the loaded profile, where the delivery wants one
 * @throws RawError where that cannot be used for files
 */
export async function orderOf(
  { format, size, space, sharpening }: Delivery,
  profile: Uint8Array | undefined,
): Promise<PictureOrder> {
  const bits = bitsOf(format)
  const how = {
    bits,
    kernel: 'kernel' in size ? size.kernel : undefined,
    sharpening: sharpeningFor(sharpening, size.ppi),
  }
  const file = { format, bits, ppi: size.ppi }
  if (typeof space === 'string') return { pixels: { ...how, space }, file: { ...file, ...profileOf(space) } }
  if (!profile) throw new Error('the profile of this delivery was not loaded')
  const [table, { name }] = await Promise.all([fileTable(profile, space), readProfile(profile)])
  return { pixels: { ...how, space: 'rec2020', table }, file: { ...file, icc: profile, label: name } }
}
