import { bulkName } from '@dunkelkammer/core'

/** Where what was found in a picture is kept, from one opening of it to the next. */
export interface Keeper {
  get(name: string): Promise<Uint8Array | undefined>
  put(name: string, bytes: Uint8Array<ArrayBuffer>): Promise<unknown>
}

/** What was found in a picture. */
export interface KeptFound {
  width: number
  height: number
  /** How sure that is, 0..1; 0 where there is none of it. */
  confidence: number
  /** How much of each place it is, 0..255. */
  share: Uint8Array
}

/** Counts on whenever something else is found in the same picture. */
const VERSION = 1
const HEADER = 6
/** Most that a picture of this kind may be across. */
const MOST = 4096

/** The name of what was looked for. @param words same words, same answer for a picture */
export const keptName = (words: string): string =>
  bulkName(new TextEncoder().encode(`${VERSION} ${words}`)).slice('sha256-'.length)

const through = (bytes: Uint8Array<ArrayBuffer>, by: CompressionStream | DecompressionStream) =>
  new Response(new Blob([bytes]).stream().pipeThrough(by))
    .arrayBuffer()
    .then((buffer) => new Uint8Array(buffer))

/** As bytes: version, width, height, confidence, and the share by deflate. */
export async function encodeFound(found: KeptFound): Promise<Uint8Array<ArrayBuffer>> {
  const { width, height, confidence, share } = found
  const packed = await through(new Uint8Array(share), new CompressionStream('deflate'))
  const out = new Uint8Array(HEADER + packed.length)
  // what is there at all stays so
  const sure = confidence > 0 ? Math.max(Math.round(confidence * 255), 1) : 0
  out.set([VERSION, width >> 8, width & 255, height >> 8, height & 255, sure])
  out.set(packed, HEADER)
  return out
}

/** @returns undefined where the bytes are of another version, or damaged */
export async function decodeFound(bytes: Uint8Array): Promise<KeptFound | undefined> {
  if (bytes.length < HEADER || bytes[0] !== VERSION) return undefined
  const [width, height] = [(bytes[1] << 8) | bytes[2], (bytes[3] << 8) | bytes[4]]
  if (width > MOST || height > MOST) return undefined
  try {
    const share = await through(new Uint8Array(bytes.subarray(HEADER)), new DecompressionStream('deflate'))
    if (share.length !== width * height) return undefined
    return { width, height, confidence: bytes[5] / 255, share }
  } catch {
    return undefined
  }
}

/** What of a picture was found before, as far as somebody keeps it; without that all is found anew. */
export class Finds {
  constructor(private readonly keeper?: Keeper) {}

  get keeps(): boolean {
    return this.keeper !== undefined
  }

  async get(name: string): Promise<KeptFound | undefined> {
    try {
      const bytes = await this.keeper?.get(name)
      return bytes && (await decodeFound(bytes))
    } catch {
      return undefined
    }
  }

  /** Nothing waits for it: what cannot be kept is found anew another time. */
  put(name: string, found: KeptFound): void {
    void encodeFound(found)
      .then((bytes) => this.keeper?.put(name, bytes))
      .catch(() => undefined)
  }
}
