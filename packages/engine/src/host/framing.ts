import {
  apartOf,
  fringesOnMosaic,
  Square,
  squareSettings,
  startDevelopment,
  type Apart,
  type OpenPicture,
  type Plan,
  type Shading,
  type ShadingMap,
  type SquareSettings,
  type Warp,
} from '@dunkelkammer/core'
import type { Section } from './cache'
import { knownLens, withoutLens, type KnownLens, type LensFinding } from './lenses'
import type { Releasable, Resources } from './resources'
import type { Store } from './store'

/** A development's frame: which pixels of the picture it shows, and what the steps are to know of it. */
export interface Framed {
  square: Square
  finding: LensFinding
  /** Knows the frame's size instead of the picture's. */
  open: OpenPicture
  /** Same key, same frame. */
  key: string
  /** Fringes to be taken out of the mosaic. */
  apart?: Apart
}

/** Steps between the sizes in which a picture is kept for views of a squared-up frame: four to the octave. */
const PER_OCTAVE = 4

/** Size of a picture from which a frame shown at a scale is sampled: a little larger than needed, never smaller. */
export function sourceSize(size: { width: number; height: number }, scale: number) {
  let k = 1
  const step = 2 ** (1 / PER_OCTAVE)
  while (k / step >= scale * 0.9999) k /= step
  return {
    width: Math.max(Math.round(size.width * k), 8),
    height: Math.max(Math.round(size.height * k), 8),
    scale: k,
  }
}

/** What of the settings says which lens is meant. */
const lensKey = ({ lens: { choice, profile, straighten, bend, edge } }: SquareSettings): string =>
  JSON.stringify(
    choice === 'hand'
      ? [choice, bend, edge]
      : choice === 'profile'
        ? [choice, profile, straighten]
        : [choice, straighten],
  )

/** Knows frames by settings, and puts their tables into the engine's memory. */
export class Framing {
  private lenses = new Map<string, Promise<KnownLens>>()
  /** Those of them that have arrived. */
  private arrived = new Map<string, KnownLens>()
  private readonly frames = new Map<string, Framed>()
  private without?: KnownLens
  /** Of the lenses that were asked for. */
  private generation: number

  constructor(
    private readonly open: OpenPicture,
    private readonly frame: Parameters<typeof knownLens>[0],
    private readonly store: Store,
    private readonly section: Section,
    private readonly resources: Resources,
  ) {
    this.generation = resources.generation('lens')
  }

  /** @throws RawError where a chosen lens profile cannot be had */
  async of(plan: Pick<Plan, 'square'>): Promise<Framed> {
    const settings = plan.square ?? squareSettings(startDevelopment())
    this.look()
    // while it is asked for, others may come to be known
    const { generation } = this
    return this.framed(settings, await this.lens(settings), generation)
  }

  /** The same at once, where the lens is known already. */
  now(plan: Pick<Plan, 'square'>): Framed | undefined {
    const settings = plan.square ?? squareSettings(startDevelopment())
    this.look()
    const lens =
      settings.lens.choice === 'off'
        ? (this.without ??= withoutLens(this.frame))
        : this.arrived.get(lensKey(settings))
    return lens && this.framed(settings, lens, this.generation)
  }

  /**
   * How a frame's pixels are sampled.
   * @param frame the size in which all of it is wanted
   * @param source the picture that is at hand, and its size against the full one
   * @param held what it needs in memory is put here, to be released after use
   */
  warp(
    { square, key }: Framed,
    frame: { width: number; height: number },
    source: { width: number; height: number; scale: number },
    quick: boolean,
    held: Releasable[],
  ): Warp {
    const tables = this.inMemory(`geometry ${key}`, () => new Uint8Array(square.tables().buffer), held)
    // a picture that moves may do without its fringes taken out
    const channels = square.fringed && !quick ? 3 : 1
    const scale = frame.width / square.width
    const { fallOff } = square.settings.lens
    const shading = (name: string, of: ShadingMap | undefined, amount: number): Shading[] => {
      if (!of || amount === 0) return []
      const map = this.inMemory(`${name} ${key}`, () => shadingMap(of, amount), held)
      return [shadingOver(of, map, source)]
    }
    return {
      numbers: square.numbers(scale, source),
      tables,
      channels,
      shading: [...shading('due', square.lens?.due, 1), ...shading('shading', square.lens?.shading, fallOff)],
      // a source much too large is for pictures that nobody looks at closely
      ratio: source.scale > scale * 1.001 ? Math.min(Math.round((source.scale / scale) * 64) / 64, 1.5) : 1,
      quick,
      frame: { width: frame.width, height: frame.height },
    }
  }

  private framed(settings: SquareSettings, lens: KnownLens, generation: number): Framed {
    const key = `${generation} ${JSON.stringify(settings)}`
    let found = this.frames.get(key)
    if (!found) {
      const { width, height } = this.open.context
      const { focalLength35 } = this.frame.metadata
      const laid = fringesOnMosaic(this.open, lens.faults)
      const square = new Square({ width, height }, settings, lens.faults, focalLength35, laid)
      const context = { ...this.open.context, width: square.width, height: square.height }
      const apart = laid ? apartOf(square, this.open) : undefined
      found = { square, finding: lens.finding, open: { ...this.open, context }, key, apart }
      this.frames.set(key, found)
      for (const old of this.frames.keys()) if (this.frames.size > 24) this.frames.delete(old)
    }
    return found
  }

  private lens(settings: SquareSettings): Promise<KnownLens> {
    const key = lensKey(settings)
    const { lenses, arrived } = this
    let known = lenses.get(key)
    if (!known) {
      known = knownLens(this.frame, settings.lens, async (wish) => {
        const resource = await this.resources.get('lens', wish)
        resource.release()
        return resource.value
      })
      lenses.set(key, known)
      known.then(
        (lens) => arrived.set(key, lens),
        // another time it may be there
        () => lenses.delete(key),
      )
    }
    return known
  }

  /** Others may be known by now: nothing that was made with those of before is taken for the same. */
  private look(): void {
    const now = this.resources.generation('lens')
    if (now === this.generation) return
    this.generation = now
    this.lenses = new Map()
    this.arrived = new Map()
    this.frames.clear()
  }

  private inMemory(key: string, bytes: () => Uint8Array, held: Releasable[]): number {
    const kept = this.section.takeNow(key, () => {
      const made = bytes()
      const room = this.section.cache.bytes(made.length + 16)
      this.store.write(room.raster.offset, made)
      return room
    })
    held.push(kept)
    return kept.raster.offset
  }
}

/** A map of gains in memory, laid over a picture of some size. */
function shadingOver(
  { across, down, left, right, top, bottom }: ShadingMap,
  map: number,
  { width, height }: { width: number; height: number },
): Shading {
  const ax = (across - 1) / Math.max(right - left, 1e-6)
  const ay = (down - 1) / Math.max(bottom - top, 1e-6)
  return { map, across, down, ax: ax / width, bx: -left * ax, ay: ay / height, by: -top * ay }
}

/** How much light each place of the frame is given back, by channel. */
function shadingMap(shading: ShadingMap, fallOff: number): Uint8Array {
  const size = shading.across * shading.down
  const all = new Float32Array(3 * size)
  shading.gains.forEach((g, c) =>
    all.set(
      g.map((v) => 1 + fallOff * (v - 1)),
      c * size,
    ),
  )
  return new Uint8Array(all.buffer)
}
