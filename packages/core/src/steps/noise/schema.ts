import { choiceField, shareField, switchField } from '../field'
import { z } from 'zod'

export const NoiseSchema = z.object({
  /** Left alone, as much as the noise model says, or by the numbers below. */
  mode: choiceField(['none', 'automatic', 'hand'], 'none', 'Noise reduction', {
    none: 'left in',
    automatic: 'automatic',
    hand: 'by hand',
  }),
  /** Whose word is taken for how much noise there is; `best` is the first of the others that is there. */
  source: choiceField(['best', 'file', 'camera', 'picture'], 'best', 'Word taken of', {
    best: 'the best there is',
    file: 'the file',
    camera: 'profile of the camera',
    picture: 'the picture itself',
  }),
  /** How much of the noise in the light, and in the colours, is taken away: 1 as much as there is. */
  luminance: shareField(0, 2, 1, 'In the light'),
  colour: shareField(0, 2, 1, 'In the colours'),
  /** Coarse blotches of colour. */
  blotches: shareField(0, 2, 1, 'Coarse blotches'),
  /** How much is left where there is drawing: 0 none, 1 all. */
  keepDetail: shareField(0, 1, 0, 'Left where there is drawing'),
  /** More in the shadows and less in the light, or the other way round: -1 to 1. */
  tone: shareField(-1, 1, 0, 'Lights less, shadows more'),
  /** The better and slower way for the still picture and for files. */
  fine: switchField(true, 'Fine, in the still picture and in files'),
})
export type NoiseSettings = z.infer<typeof NoiseSchema>
