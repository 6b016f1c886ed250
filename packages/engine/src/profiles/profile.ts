import { RawError } from '@dunkelkammer/core'
import { instantiate, type Lcms } from 'lcms-wasm'

let lcms: Promise<Lcms> | undefined
/** The colour management module, started once. */
export const colourManagement = (): Promise<Lcms> => (lcms ??= instantiate())

/** Colours that a profile is for, by their signature in its header (ICC.1:2010, 7.2.6). */
const COLOURS = { 'RGB ': 'RGB', CMYK: 'CMYK', GRAY: 'grey' } as const
const CLASSES = { mntr: 'display', prtr: 'printer', spac: 'space' } as const

/** What people are told of a profile. */
export interface ProfileFacts {
  name: string
  colours: (typeof COLOURS)[keyof typeof COLOURS]
  device: (typeof CLASSES)[keyof typeof CLASSES]
}

/** Profiles are small; what is larger is something else. */
export const MOST_PROFILE_BYTES = 16e6

const unusable = (why: string) => new RawError('unsupported', `This colour profile cannot be used: ${why}.`)

/**
 * Opens a profile for as long as `use` takes.
 * @throws RawError where it is damaged, or not for a device that shows or prints
 */
export async function withProfile<T>(
  bytes: Uint8Array,
  use: (lcms: Lcms, profile: number, facts: ProfileFacts) => T,
): Promise<T> {
  if (bytes.length < 132 || bytes.length > MOST_PROFILE_BYTES || signature(bytes, 36) !== 'acsp')
    throw unusable('it is no ICC profile, or damaged')
  const colours = COLOURS[signature(bytes, 16) as keyof typeof COLOURS]
  const device = CLASSES[signature(bytes, 12) as keyof typeof CLASSES]
  if (!colours) throw unusable(`it is for ${signature(bytes, 16).trim() || 'unknown'} colours`)
  if (!device) throw unusable('it is for a device that neither shows nor prints')
  const module = await colourManagement()
  const profile = openFrom(module, bytes)
  if (!profile) throw unusable('it is damaged')
  try {
    const name = module.cmsGetProfileInfoASCII(profile, DESCRIPTION, 'en', 'US')
    return use(module, profile, { name: plain(name) || 'Profile without a name', colours, device })
  } finally {
    module.cmsCloseProfile(profile)
  }
}
const DESCRIPTION = 0

const signature = (bytes: Uint8Array, at: number) => String.fromCharCode(...bytes.subarray(at, at + 4))

const plain = (name: string) =>
  name
    .replace(/[\u0000-\u001f\u007f]+/g, ' ')
    .trim()
    .slice(0, 120)

/** Its own wrapper would put the profile on the stack, which is too small for one with tables. */
export function openFrom(lcms: Lcms, bytes: Uint8Array): number {
  const at = lcms._malloc(bytes.length)
  if (!at) return 0
  try {
    lcms.HEAPU8.set(bytes, at)
    return lcms._cmsOpenProfileFromMem(at, bytes.length)
  } finally {
    lcms._free(at)
  }
}

/** @throws RawError where it cannot be used */
export const readProfile = (bytes: Uint8Array): Promise<ProfileFacts> =>
  withProfile(bytes, (lcms, profile, facts) => {
    if (!canPrint(lcms, profile, facts)) throw unusable('it does not say how colours are shown')
    return facts
  })

/** Whether the profile leads to colours of its device and back. */
function canPrint(lcms: Lcms, profile: number, { colours }: ProfileFacts): boolean {
  const lab = lcms.cmsCreateLab4Profile()
  try {
    return [
      [lab, FLOATS.Lab, profile, FLOATS[colours]],
      [profile, FLOATS[colours], lab, FLOATS.Lab],
    ].every(([from, fromFormat, to, toFormat]) => {
      const transform = lcms.cmsCreateTransform(from, fromFormat, to, toFormat, 1, 0)
      if (transform) lcms.cmsDeleteTransform(transform)
      return transform !== 0
    })
  } finally {
    lcms.cmsCloseProfile(lab)
  }
}

/** Pixel formats of 32-bit floats: kind of colours << 16, channels << 3, bytes. */
const floats = (kind: number, channels: number) => (1 << 22) | (kind << 16) | (channels << 3) | 4
export const FLOATS = {
  RGB: floats(4, 3),
  CMYK: floats(6, 4),
  grey: floats(3, 1),
  Lab: floats(10, 3),
} as const
