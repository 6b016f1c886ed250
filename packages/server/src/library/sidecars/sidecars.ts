import type { Development } from '@dunkelkammer/core'
import { writeWhole } from '@dunkelkammer/engine/encode'
import type { SidecarsWritten } from '@dunkelkammer/contract'
import { strToU8, zipSync } from 'fflate'
import type { Tx } from '../../db/open'
import type { Lenses } from '../../lenses/lenses'
import { HttpProblem, toProblem } from '../../problem'
import type { Kept } from '../arrivals'
import type { Bulk } from '../bulk'
import type { Frames } from '../frames'
import { textOf, type FrameRow } from '../rows'
import type { Shoots } from '../shoots'
import type { Versions } from '../versions'
import { encodedXml } from '@dunkelkammer/engine/words'
import { editXmp } from './editXmp'
import { bareName, placeFor, placeInLibrary, textIn } from './files'
import { KeptVersionSchema, writeRecords, type FrameRecord, type KeptVersion } from './records'
import { MAX_XMP, readXmp } from './xmp'

/** What sidecars are written from. */
interface Sources {
  frames: Frames
  versions: Versions
  shoots: Shoots
  bulk: Bulk
  lenses: Lenses
}

/** Sidecars of frames: words, stars and mark as XMP, developments in a property of our own. */
export class Sidecars {
  constructor(private readonly of: Sources) {}

  /**
   * Writes the sidecars of frames beside their originals, where those lie; what one of them says already and we do not
   * know stays in it.
   */
  async write(ids: readonly string[]): Promise<SidecarsWritten> {
    const written: SidecarsWritten = { beside: 0, inLibrary: 0, problems: [] }
    for (const row of this.of.frames.rows(ids)) {
      try {
        const { inPlace } = await this.writeOne(row)
        if (inPlace) written.beside++
        else written.inLibrary++
      } catch (error) {
        written.problems.push(`${row.fileName}: ${toProblem(error).message}`)
      }
    }
    return written
  }

  /** Writes one sidecar where it differs from what is there. @throws where it cannot be written */
  async writeOne(row: FrameRow): Promise<{ inPlace: boolean }> {
    const { path, inPlace } = this.of.frames.original(row.id)
    const target = inPlace ? await placeFor(path) : placeInLibrary(path)
    const before = await textIn(target)
    const xmp = this.text(row, before?.text, new Date().toISOString().slice(0, 19) + 'Z')
    if (xmp !== before?.text)
      await writeWhole(target, encodedXml(xmp, before?.encoding ?? 'utf-8'), {
        replace: before !== undefined,
      })
    return { inPlace }
  }

  /**
   * Sidecars of frames in one archive, to be laid beside copies of the originals; frames that differ in their ending
   * alone have one each, a name that still comes twice is numbered.
   */
  zipped(ids: readonly string[]): Uint8Array {
    const rows = this.of.frames
      .rows(ids)
      .map((row) => ({ row, name: row.fileName.replace(/[/\\\p{Cc}]/gu, '_') }))
    const files: Record<string, Uint8Array> = {}
    for (const { row, name } of rows) {
      const shared = rows.some((r) => r.name !== name && bareName(r.name) === bareName(name))
      const own = shared ? name : bareName(name)
      let free = `${own}.xmp`
      for (let n = 2; files[free]; n++) free = `${own} (${n}).xmp`
      files[free] = strToU8(this.textFor(row))
    }
    return zipSync(files, { level: 6 })
  }

  /**
   * Gives a frame the versions that a sidecar has of it, within the transaction that takes them in. They take the
   * place of the one that it came with where nothing was done to that.
   * @returns what could not be read, in sentences
   */
  restore(tx: Tx, frameId: string, { record, of }: Kept): string[] {
    const problems: string[] = []
    for (const [name, bytes] of of.bulk)
      try {
        this.of.bulk.put(name, bytes)
      } catch (error) {
        problems.push(toProblem(error).message)
      }
    this.of.lenses.restore(of.lenses)
    const { versions } = this.of
    const there = new Set(versions.idsOf(tx, frameId))
    const untouched = versions.untouched(tx, frameId)
    const ids = new Map<string, string>()
    for (const value of record.versions)
      try {
        const kept = readVersion(value)
        if (there.has(kept.id)) continue
        const [id] = versions.restore(tx, frameId, [kept])
        if (!kept.deleted) ids.set(kept.id, id)
      } catch (error) {
        if (!(error instanceof HttpProblem)) throw error
        problems.push(error.message)
      }
    if (untouched !== undefined && ids.size > 0) versions.giveWay(tx, untouched)
    const shown = record.shown && ids.get(record.shown)
    if (shown) this.of.frames.show(tx, frameId, shown)
    return problems
  }

  /** The text of a frame's sidecar, as it is written beside a copy of the original. */
  textFor(row: FrameRow): string {
    return this.text(row)
  }

  /** The text of a frame's sidecar. @throws HttpProblem where what it holds already cannot be read and would be lost */
  private text(row: FrameRow, before?: string, now?: string): string {
    const { versions, lenses, bulk } = this.of
    const there = before ? readXmp(before).development : undefined
    const kept = versions.kept(row.id)
    const profiles = lenses.kept([...new Set(kept.flatMap(profilesIn))])
    const compose = (some: readonly KeptVersion[]) => {
      const records = writeRecords(there, this.record(row, some), profiles, (name) => bulk.find(name))
      return editXmp(before ?? '', textOf(row), row.rating, row.mark, records, now)
    }
    const whole = compose(kept)
    if (whole.length <= MAX_XMP) return whole
    // the settings are worth more than the way to them
    const short = compose(kept.map((version) => ({ ...version, head: null, tip: null, entries: [] })))
    if (short.length <= MAX_XMP) return short
    throw new HttpProblem(413, 'too-large', 'What was painted on it is too large for a sidecar.')
  }

  private record(row: FrameRow, versions: readonly KeptVersion[]): FrameRecord {
    const { id, name, created, atImport } = this.of.shoots.require(row.shootId)
    return {
      ...{ id: row.id, fileName: row.fileName, original: row.original, fileDate: row.fileDate ?? undefined },
      ...{ rating: row.rating, mark: row.mark, text: textOf(row) },
      ...{ stack: row.stack ?? undefined, shown: row.shown ?? undefined },
      ...{ delivered: row.delivered ?? undefined, deliveredAs: row.deliveredAs ?? undefined },
      ...(row.deliveredBy.length > 0 && { deliveredBy: row.deliveredBy }),
      shoot: { id, name, created, atImport },
      versions: [...versions],
    }
  }
}

const profileOf = (d: Development | undefined) =>
  d?.steps.lens.choice === 'profile' ? [d.steps.lens.profile] : []
const profilesIn = ({ begun, settings }: KeptVersion) => [...profileOf(begun), ...profileOf(settings)]

/** @throws HttpProblem where it cannot be read here */
function readVersion(value: unknown): KeptVersion {
  const { name } = (value ?? {}) as { name?: unknown }
  const called = typeof name === 'string' ? `“${name.slice(0, 80)}”` : 'A version'
  try {
    return KeptVersionSchema.parse(value)
  } catch (error) {
    const why = error instanceof RangeError ? error.message : 'It is damaged, or of a newer Dunkelkammer.'
    throw new HttpProblem(409, 'unreadable', `${called} in its sidecar cannot be read. ${why}`)
  }
}
