/** RGBA as a decoder gives it. */
export interface Rgba {
  width: number
  height: number
  data: Uint8ClampedArray | Uint16Array
}

/** What a raw library tells of a file that it has opened; the part that is used. */
export interface LibraryReading {
  metadata: LibraryMetadata
  mosaic: { raw_width: number; raw_height: number; data: Uint16Array }
}

export interface LibraryMetadata {
  width: number
  height: number
  raw_width: number
  raw_height: number
  top_margin: number
  left_margin: number
  flip: number
  camera_make: string
  camera_model: string
  iso_speed: number
  shutter: number
  aperture: number
  focal_len: number
  /** Seconds of the camera's clock since 1970. */
  timestamp: number
  artist: string
  desc?: string
  colors: number
  filters: number
  cdesc: string
  is_foveon?: number
  pixel_aspect?: number
  gps_data?: {
    latitude: readonly number[]
    longitude: readonly number[]
    altitude: number
    latref: string | null
    longref: string | null
    altref: number
    gpsparsed: boolean
  }
  lens?: { Lens: string; FocalLengthIn35mmFormat: number }
  color_data?: {
    black: number
    maximum: number
    cam_mul: readonly number[]
    cam_xyz: readonly (readonly number[])[]
    dng_color?: readonly { illuminant: number; colormatrix: readonly (readonly number[])[] }[]
  }
}

/** A JPEG decoded, and what its decoder had to say of it. */
export interface DecodedJpeg extends Rgba {
  warning?: string
}

/** Decoders that are WebAssembly modules; each world loads them its own way, when first needed. */
export interface Codecs {
  jpeg(): Promise<(bytes: ArrayBuffer) => Promise<DecodedJpeg>>
  webp(): Promise<(bytes: ArrayBuffer) => Promise<Rgba> | Rgba>
  avif(): Promise<(bytes: ArrayBuffer, bits: 16) => Promise<Rgba> | Rgba>
  heif(): Promise<(bytes: Uint8Array) => Promise<Rgba>>
  raw(): Promise<(bytes: Uint8Array) => Promise<LibraryReading>>
}

/** The part of the JPEG decoder's interface that is used. */
export interface JpegModule {
  default(bytes: ArrayBuffer): Promise<Rgba>
  init(module: WebAssembly.Module | object, options?: object): Promise<void>
}

/**
 * The decoder of JPEGs with what it prints.
 * @param start hands the function that is told to the decoder's module
 */
export const jpegWith = async (
  decode: JpegModule['default'],
  start: (options: { print(): void; printErr(line: string): void }) => Promise<void>,
): Promise<(bytes: ArrayBuffer) => Promise<DecodedJpeg>> => {
  let warning: string | undefined
  await start({ print: () => undefined, printErr: (line) => (warning ??= line) })
  return async (bytes) => {
    warning = undefined
    const { width, height, data } = await decode(bytes)
    return { width, height, data, warning }
  }
}

/** The part of the HEIF library's interface that is used. */
export interface HeifModule {
  HeifDecoder: new () => {
    decode(bytes: Uint8Array): {
      get_width(): number
      get_height(): number
      display(target: Rgba, done: (result: Rgba | null) => void): void
    }[]
  }
}

/** The first picture of a HEIF file. */
export const heifWith =
  (library: HeifModule) =>
  (bytes: Uint8Array): Promise<Rgba> =>
    new Promise((found, fail) => {
      const image = new library.HeifDecoder().decode(bytes)[0]
      if (!image) return fail(new Error('no picture'))
      const [width, height] = [image.get_width(), image.get_height()]
      const target = { width, height, data: new Uint8ClampedArray(width * height * 4) }
      image.display(target, (result) => (result ? found(result) : fail(new Error('not decoded'))))
    })

/** The part of the raw library's interface that is used; its own development is not. */
export interface RawModule {
  LibRaw: new () => {
    open(bytes: Uint8Array, settings: object): unknown
    metadata(full: boolean): unknown
    rawImageData(): unknown
    delete?(): void
  }
}
