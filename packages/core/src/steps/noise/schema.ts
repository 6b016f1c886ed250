import { choiceField, shareField, switchField } from '../field'
import { z } from 'zod'

export const NoiseSchema = z.object({
  /** Left alone, as much as the noise model says, or by the numbers below. */
  mode: choiceField(['none', 'automatic', 'hand'], 'none', 'Noise reduction', {
    none: 'off',
    automatic: 'automatic',
    hand: 'manual',
  }),
  /** Whose word is taken for how much noise there is; `best` is the first of the others that is there. */
  source: choiceField(['best', 'file', 'camera', 'picture'], 'best', 'Noise model', {
    best: 'best available',
    file: 'from the file',
    camera: 'camera profile',
    picture: 'measured in the picture',
  }),
  /** How much of the noise in the light, and in the colours, is taken away: 1 as much as there is. */
  luminance: shareField(0, 2, 1, 'Luminance'),
  colour: shareField(0, 2, 1, 'Colour'),
  /** Coarse blotches of colour. */
  blotches: shareField(0, 2, 1, 'Colour blotches'),
  /** How much is left where there is drawing: 0 none, 1 all. */
  keepDetail: shareField(0, 1, 0, 'Protect detail'),
  /** More in the shadows and less in the light, or the other way round: -1 to 1. */
  tone: shareField(-1, 1, 0, 'More in shadows'),
  /** The better and slower way for the still picture and for files. */
  fine: switchField(true, 'High quality'),
})
export type NoiseSettings = z.infer<typeof NoiseSchema>
