import {
  appliedAt,
  developedSize,
  readDng,
  startDevelopment,
  type FrameMetadata,
  whiteOf,
  withPortion,
  type SensorFrame,
} from '@dunkelkammer/core'
import { NO_TEXT, type AtImport, type Frame, type PresetEntry } from '@dunkelkammer/contract'
import { identify, type Adapted, type Adapter } from '@dunkelkammer/engine/node'
import { isLater, wordBlocks, wordsOf, type XmpWords } from '@dunkelkammer/engine/words'
import { and, eq } from 'drizzle-orm'
import { randomUUID } from 'node:crypto'
import { readFile } from 'node:fs/promises'
import { schema, type Db, type Tx } from '../db/open'
import { HttpProblem } from '../problem'
import {
  isDeveloped,
  keptFor,
  keptValues,
  safeEnding,
  sidecarValues,
  type Arrival,
  type Kept,
} from './arrivals'
import type { Frames } from './frames'
import type { News } from './news'
import type { Originals } from './originals'
import { readRange } from './readRange'
import type { Sidecar } from './sidecars/xmp'
import { discard, KEPT, MAX_DEVELOPED, readHashed, type Received } from './receive'
import { toFrame, type FrameRow } from './rows'
import type { Shoots } from './shoots'
import type { Beginning, Versions } from './versions'

const { frames } = schema

/** What became of a file that came in. */
export interface Added {
  frame: Frame
  /** The shoot had it already. */
  known: boolean
  /** The library had lost its bytes, and has them again. */
  restored: boolean
  /** What of its sidecar could not be read, in sentences. */
  problems: readonly string[]
}

/** What a file is, and what it says where it can be developed. */
interface Looked {
  format: string
  sensor?: SensorFrame
  /** The file holds several pictures in time. */
  moving?: boolean
  /** What it says of itself in words. */
  said: XmpWords
}

/** The way of files into shoots. */
export class Intake {
  /** What a frame that comes in begins with. */
  begin: (metadata: FrameMetadata) => Beginning = () => ({
    label: 'As taken',
    development: startDevelopment(),
  })
  /** Called when thumbnails or sidecars may have become stale. */
  onChange?: () => void
  /** The preset of an id. */
  preset: (id: string) => PresetEntry | undefined = () => undefined
  /** Gives a frame the versions that its sidecar has. @returns what could not be read */
  restore: (tx: Tx, frameId: string, kept: Kept) => string[] = () => []
  /** Called with frames that have come with a preset which wants something found in them. */
  onWanting?: (frameId: string, preset: PresetEntry) => void

  constructor(
    private readonly db: Db,
    private readonly shoots: Shoots,
    private readonly frames: Frames,
    private readonly versions: Versions,
    private readonly originals: Originals,
    private readonly adapter: Adapter,
    private readonly news: News,
  ) {}

  /**
   * Makes a received file a frame of a shoot, with its first version. One transaction gives the file its place and
   * makes it known. Where its content is known but the file is missing or spoiled, it is put back.
   * @throws RawError where the file cannot be developed, HttpProblem where there is no such shoot; it is discarded then
   */
  async add(shootId: string, arrival: Arrival, received: Received): Promise<Added> {
    try {
      return await this.take(shootId, arrival, received)
    } finally {
      await discard(received)
    }
  }

  private async take(shootId: string, arrival: Arrival, received: Received): Promise<Added> {
    this.shoots.require(shootId)
    const { hash } = received
    const said: string[] = []
    const kept = arrival.kept ?? keptFor(arrival, hash, (problem) => said.push(problem))
    let looked: Looked | undefined
    for (;;) {
      const before = this.originals.row(hash)
      if (!this.inShoot(shootId, hash)) looked ??= await this.look(received)
      const ending = looked?.format === 'dng' ? '.dng' : safeEnding(arrival.fileName)
      const sound = await this.originals.isSound(hash, before?.ending ?? ending)
      let undo = () => undefined as void
      try {
        const added = this.db.transaction((tx): Added | undefined => {
          const row = this.originals.row(hash)
          const same = this.inShoot(shootId, hash)
          // what was found out while others were at work no longer counts
          if (row?.inPlace !== before?.inPlace || (!same && !looked)) return undefined
          const restored = row !== undefined && !sound
          const copied = received.of !== 'user' && row !== undefined && row.inPlace !== null
          if (!same || restored || copied) undo = this.originals.put(tx, received, ending, sound)
          if (restored) this.frames.touch(tx, hash)
          const at = this.originals.row(hash)!.inPlace
          if (same) return { frame: toFrame(same, received.size, at), known: true, restored, problems: [] }
          const changed = this.news.next(tx)
          const plain = { ...this.newRow(shootId, arrival, hash, looked!), changed }
          const fresh = kept ? { ...plain, ...keptValues(kept, arrival), id: freeId(tx, kept) } : plain
          tx.insert(frames).values(fresh).run()
          const problems = [...said]
          if (kept && (arrival.kept || isDeveloped(kept))) problems.push(...this.restore(tx, fresh.id, kept))
          if (!this.versions.has(tx, fresh.id)) {
            const version = this.versions.begin(tx, fresh.id, arrival.begins ?? this.begin(fresh.metadata))
            if (looked!.sensor && arrival.text?.preset) this.applyPreset(tx, version, arrival.text.preset)
          }
          const now = tx.select().from(frames).where(eq(frames.id, fresh.id)).get()!
          return { frame: toFrame(now, received.size, at), known: false, restored, problems }
        })
        if (!added) continue
        this.onChange?.()
        const preset = arrival.text?.preset && this.preset(arrival.text.preset.id)
        if (preset && !added.known && preset.portion.automatic.length > 0)
          this.onWanting?.(added.frame.id, preset)
        return added
      } catch (error) {
        undo()
        throw error
      }
    }
  }

  private applyPreset(tx: Tx, versionId: string, { id, strength }: NonNullable<AtImport['preset']>): void {
    const preset = this.preset(id)
    // one that is no more is passed over
    if (!preset) return
    const by = appliedAt(preset, strength)
    this.versions
      .within(tx)
      .change(versionId, preset.name, (d) => withPortion(d, preset.portion, by, randomUUID), {
        preset: { application: randomUUID(), preset: id, name: preset.name, strength: by },
      })
  }

  /** Reads what there is to know of a file before it is developed. @throws RawError where it cannot be */
  private async look(received: Received): Promise<Looked> {
    if (received.size > MAX_DEVELOPED) {
      identify(await readRange(received.path, 0, 1 << 20))
      return { format: KEPT, said: { words: {} } }
    }
    // what was written here this moment nobody else has touched
    const { bytes, hash } =
      received.of === 'us'
        ? { bytes: new Uint8Array(await readFile(received.path)), hash: received.hash }
        : await readHashed(received.path)
    if (hash !== received.hash) throw new HttpProblem(409, 'changed', 'This file changed while it was read.')
    const format = identify(bytes)
    // the bytes go to the thread that adapts them
    const blocks = wordBlocks(bytes, format)
    const { dng, moving }: Omit<Adapted, 'format'> =
      format === 'dng' ? { dng: bytes } : await this.adapter.adapt(bytes)
    const sensor = readDng(dng)
    return { format, sensor, moving, said: wordsOf(blocks, sensor.metadata) }
  }

  private newRow(shootId: string, arrival: Arrival, original: string, looked: Looked): FrameRow {
    const { format, sensor, moving, said } = looked
    const { text, sidecar } = arrival
    const label = sidecar?.label ?? said.label
    const metadata: FrameMetadata = {
      ...(sensor ? { ...sensor.metadata, exif: undefined, asShot: asShotIn(sensor) } : { orientation: 1 }),
      ...(label && { label }),
      ...(moving && { moving }),
    }
    const own = { text: said.words, rating: said.rating, changed: said.changed }
    // what was written later counts; of two that do not say it, the sidecar
    const beside = sidecar ?? { text: {} }
    const [first, then] = isLater(own.changed, beside.changed)
      ? [beside, asSidecar(own)]
      : [asSidecar(own), beside]
    const given = { ...sidecarValues(first, text?.keywords), ...sidecarValues(then, text?.keywords) }
    const preview = format === 'dng' ? sensor?.preview : undefined
    return {
      id: randomUUID(),
      shootId,
      original,
      fileName: arrival.fileName.slice(-300),
      ...(sensor ? developedSize(sensor) : { width: 0, height: 0 }),
      previewOffset: preview?.offset ?? null,
      previewLength: preview?.length ?? null,
      metadata,
      taken: metadata.taken ?? null,
      fileDate: arrival.fileDate ?? null,
      format,
      rating: 0,
      mark: 'none',
      ...NO_TEXT,
      keywords: text?.keywords ?? [],
      edited: false,
      delivered: null,
      deliveredBy: [],
      deliveredAs: null,
      thumb: null,
      shown: null,
      stack: arrival.stack ?? null,
      sidecar: 0,
      changed: 0,
      ...given,
      // who brings them in says so for all
      ...(text?.creator && !sidecar?.text.creator && { creator: text.creator.slice(0, 300) }),
      ...(text?.copyright && !sidecar?.text.copyright && { copyright: text.copyright.slice(0, 300) }),
    }
  }

  private inShoot(shootId: string, hash: string): FrameRow | undefined {
    return this.db
      .select()
      .from(frames)
      .where(and(eq(frames.shootId, shootId), eq(frames.original, hash)))
      .get()
  }
}

/** Stars of a file as a sidecar would have them. */
const asSidecar = ({ text, rating }: Pick<Sidecar, 'text' | 'rating'>): Sidecar =>
  rating === -1 ? { text, mark: 'drop' } : { text, rating }

/** The light that a frame's camera took it for. */
function asShotIn({ colour }: SensorFrame): { kelvin: number; tint: number } {
  const { kelvin, tint } = whiteOf(colour, colour.asShotNeutral)
  return { kelvin: Math.round(kelvin), tint: Math.round(tint) }
}

/** The id that a frame had, or another one where it is taken. */
const freeId = (tx: Tx, { record: { id } }: Kept): string =>
  tx.select({ id: frames.id }).from(frames).where(eq(frames.id, id)).get() ? randomUUID() : id
