import { LensProfileSchema, type LensProfile } from './profile'

/** A lens of one focal length, as measured on one camera: distortion, fringes, fall-off by polynomials. */
function measured(part: {
  model: string
  crop: number
  focal: readonly number[]
  aperture: number
  distortion: readonly number[]
  red?: readonly number[]
  blue?: readonly number[]
  fallOff: readonly number[]
}): LensProfile {
  const { model, crop, focal, aperture, red, blue } = part
  const terms = [...part.distortion]
  return LensProfileSchema.parse({
    maker: 'Ostrava & Linde',
    model,
    mounts: ['Veldrom'],
    crop,
    aspect: 1.5,
    distortion: focal.map((f) => ({ focal: f, kind: 'radial', terms })),
    fringes:
      red || blue ? focal.map((f) => ({ focal: f, kind: 'radial', red: red ?? [0], blue: blue ?? [0] })) : [],
    fallOff: focal.flatMap((f) => [
      { focal: f, aperture, distance: 10, terms: [...part.fallOff] },
      { focal: f, aperture, distance: 1000, terms: [...part.fallOff] },
    ]),
  })
}

const WIDE = {
  distortion: [-0.037988, -0.005778, 0.037079, -0.016293],
  red: [-0.0000312, -0.000611, 0.0000226],
  blue: [0.00006, 0.0006867, -0.0003454],
  fallOff: [-0.58044, 0.15386, -0.02175],
}
const NORMAL = {
  distortion: [0.007917, 0.001556, -0.005374, 0.002078],
  blue: [-0.0000085, -0.0002529, -0.0000001],
  fallOff: [-0.2],
}

/** Lenses of the demo's maker, measured with its cameras. */
export const SHIPPED_LENSES: readonly LensProfile[] = [
  measured({ model: 'Veldrom 20 mm f/4', crop: 1, focal: [20], aperture: 4, ...WIDE }),
  measured({ model: 'Veldrom 20 mm f/4', crop: 1.53, focal: [12.5, 20], aperture: 4, ...WIDE }),
  measured({ model: 'Veldrom 35 mm f/2', crop: 1, focal: [35], aperture: 2, ...NORMAL }),
  measured({ model: 'Veldrom 35 mm f/2', crop: 1.53, focal: [23, 35], aperture: 2, ...NORMAL }),
  measured({
    model: 'Veldrom 50-100 mm f/2.8',
    crop: 1.53,
    focal: [50, 70, 100],
    aperture: 2.8,
    distortion: [0.00148, 0.003298, -0.005931, 0.002776],
    fallOff: [-0.07674, -0.03785, 0.0168],
  }),
]
