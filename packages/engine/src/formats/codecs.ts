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
  /** `deep` asks for 16 bits a sample. */
  heif(): Promise<(bytes: Uint8Array, deep: boolean) => Promise<Rgba> | Rgba>
  raw(): Promise<(bytes: Uint8Array) => Promise<LibraryReading>>
  /** What follows a profile's tables. */
  profiles(): Promise<typeof import('../profiles/input')>
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

/** The part of the HEIF library's interface that is used; its words come as objects of its own. */
export interface HeifModule {
  heif_context_alloc(): object
  heif_context_free(context: object): void
  heif_context_read_from_memory(context: object, bytes: Uint8Array): { code: object }
  heif_js_context_get_primary_image_handle(context: object): object
  heif_image_handle_release(handle: object): void
  heif_js_decode_image2(handle: object, space: object, layout: object): HeifDecoded
  heif_image_release(image: object): void
  heif_error_code: Record<'heif_error_Ok', object>
  heif_colorspace: Record<'heif_colorspace_RGB', object>
  heif_chroma: Record<'heif_chroma_interleaved_RGBA' | 'heif_chroma_interleaved_RRGGBBAA_LE', object>
}

interface HeifDecoded {
  image?: object
  channels?: { width: number; height: number; stride: number; data: Uint8Array; bits_per_pixel: number }[]
}

/** The main picture of a HEIF file, turned and cropped as the file says. */
export const heifWith =
  (library: HeifModule) =>
  (bytes: Uint8Array, deep: boolean): Rgba => {
    const context = library.heif_context_alloc()
    let handle: object | undefined
    try {
      const { code } = library.heif_context_read_from_memory(context, bytes)
      if (code !== library.heif_error_code.heif_error_Ok) throw new Error('not read')
      const primary = library.heif_js_context_get_primary_image_handle(context)
      if ('code' in primary) throw new Error('no picture')
      handle = primary
      const { heif_chroma_interleaved_RGBA: eight, heif_chroma_interleaved_RRGGBBAA_LE: sixteen } =
        library.heif_chroma
      const { heif_colorspace_RGB: rgb } = library.heif_colorspace
      const { image, channels } = library.heif_js_decode_image2(handle, rgb, deep ? sixteen : eight)
      try {
        if (!channels?.[0]) throw new Error('not decoded')
        return deep ? deepRgba(channels[0]) : plainRgba(channels[0])
      } finally {
        if (image) library.heif_image_release(image)
      }
    } finally {
      if (handle) library.heif_image_handle_release(handle)
      library.heif_context_free(context)
    }
  }

type HeifChannel = NonNullable<HeifDecoded['channels']>[number]

function plainRgba({ width, height, stride, data }: HeifChannel): Rgba {
  const out = new Uint8ClampedArray(width * height * 4)
  for (let y = 0; y < height; y++) out.set(data.subarray(y * stride, y * stride + width * 4), y * width * 4)
  return { width, height, data: out }
}

/** Samples of fewer bits, lowest byte first, over the whole range of 16. */
function deepRgba({ width, height, stride, data, bits_per_pixel }: HeifChannel): Rgba {
  const out = new Uint16Array(width * height * 4)
  const scale = 65535 / (2 ** bits_per_pixel - 1)
  for (let y = 0; y < height; y++)
    for (let i = 0; i < width * 4; i++) {
      const at = y * stride + i * 2
      out[y * width * 4 + i] = Math.round((data[at] | (data[at + 1] << 8)) * scale)
    }
  return { width, height, data: out }
}

/** The part of the raw library's interface that is used; its own development is not. */
export interface RawModule {
  LibRaw: new () => {
    open(bytes: Uint8Array, settings: object): unknown
    metadata(full: boolean): unknown
    rawImageData(): unknown
    delete?(): void
  }
}
