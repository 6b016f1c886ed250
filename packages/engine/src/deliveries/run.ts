import {
  leftToDo,
  FILE_FORMATS,
  layoutOf,
  nameFrom,
  type Delivery,
  type Development,
  type Extent,
  type FrameMetadata,
  type NameFacts,
} from '@dunkelkammer/core'
import { randomUUID } from 'node:crypto'
import { copyFile, mkdir } from 'node:fs/promises'
import { extname, join } from 'node:path'
import { carried, deliverFile } from '../encode/deliver'
import { PARTIAL, syncFile, writeWhole } from '../encode/writeFile'
import type { Engine } from '../host/engine'
import type { Picture } from '../host/picture'
import { holdsPages, isEnded, type Journal, type Part } from './part'
import { Sheets } from '../encode/sheets'
import { placeFile, removePartial, settle } from './place'

/** A frame that files are made of. */
export interface FrameSource {
  facts: Omit<NameFacts, 'delivery' | 'number' | 'of' | 'width' | 'height'>
  development: Development
  /** The original, for deliveries that copy it. */
  original: string
  /** The folder that it lies in, where files may be put beside it. */
  beside?: string
  /** Name of the original with its ending. */
  originalName: string
  /** @throws where it cannot be read */
  open(engine: Engine, signal?: AbortSignal): Promise<Picture>
  /** The development with what it leaves to each picture. */
  found?(picture: Picture): Promise<Development>
  /** What is known of the taking, with the photographer's words over those of the file. */
  metadata(original: FrameMetadata): FrameMetadata
  /**
   * Words as XMP, as far as a delivery lets them through, and how its file is made where it wants that.
   * @param development what the file is made by, or what of it is left to do
   */
  xmp?(delivery: Delivery, development: Development): string | undefined
  /** The words and the development for beside a copy of the original. */
  sidecar?(): Promise<string>
}

export interface Run {
  journal: Journal
  /** All frames, in the order in which they go onto pages. */
  frames: readonly string[]
  deliveries: readonly Delivery[]
  /** @throws where the frame is gone; the message is for the user */
  frame(id: string): FrameSource | Promise<FrameSource>
  /** The folder that a delivery's file goes to. @throws where it may not be used */
  folder(delivery: Delivery, source: FrameSource): string
  engine(): Engine | Promise<Engine>
  /** Bytes of a loaded colour profile. @throws where it cannot be had; the message is for the user */
  profile(id: string): Promise<Uint8Array>
  /** What went wrong, as a sentence. */
  sentence(error: unknown): string
  signal: AbortSignal
  /** Asked after each piece of work, which took so many milliseconds: waits where others are to come first. */
  stepBack?(ms: number): Promise<void>
  /** Told when a part has ended, or got on: by its share. */
  onPart?(part: Part, share: number): void
}

/**
 * Makes the files of a run that are not made yet. Frames are opened once for all their deliveries. A file that cannot be
 * made is noted and does not stop the rest.
 * @throws what `signal` aborts with
 */
export async function makeFiles(run: Run): Promise<void> {
  const { journal, signal } = run
  for (const part of journal.parts().filter((p) => p.state === 'making' || p.state === 'placing'))
    await takeUp(run, part)
  // in a set ids keep the order in which they came
  const ids = [...new Set(run.frames)]
  const numbers = new Map(ids.map((id, i) => [id, { number: i + 1, of: ids.length }]))
  const frames = new Map<string, Part[]>()
  const pages = journal.parts().filter((p) => holdsPages(run.deliveries[p.delivery]))
  for (const part of journal.parts())
    if (!isEnded(part) && !pages.includes(part))
      frames.set(part.frame, [...(frames.get(part.frame) ?? []), part])
  // each frame's work: of the last two at most one is developed and one encoded
  const underway: Promise<void>[] = []
  try {
    for (const [id, parts] of frames) {
      signal.throwIfAborted()
      let source: FrameSource
      try {
        source = await run.frame(id)
      } catch (error) {
        for (const part of parts) end(run, part, { state: 'failed', message: run.sentence(error) })
        continue
      }
      await new Promise<void>((developed) => {
        const work = makeOf(run, { source, ...numbers.get(id)! }, parts, developed).finally(developed)
        // told when it is waited for
        work.catch(() => undefined)
        underway.push(work)
      })
      // more at once would cost memory and win nothing
      await underway.at(-2)
    }
    await Promise.all(underway)
    for (const part of pages.filter((p) => !isEnded(p))) await makePages(run, part, numbers)
  } finally {
    await Promise.allSettled(underway)
  }
  signal.throwIfAborted()
}

/** Goes on with a part that a stop has interrupted. */
async function takeUp(run: Run, part: Part): Promise<void> {
  if (!(await settle(part)))
    return run.journal.set(part.number, { state: 'waiting', partial: undefined, file: undefined })
  try {
    // a copy of the original may not have its sidecar yet
    const delivery = run.deliveries[part.delivery]
    if (delivery.format.kind === 'original')
      await addSidecar(delivery, await run.frame(part.frame), part.file!)
    end(run, part, { state: 'done', partial: undefined })
  } catch (error) {
    end(run, part, { state: 'done', partial: undefined, message: run.sentence(error) })
  }
}

function end(run: Run, part: Part, values: Partial<Part>): void {
  run.journal.set(part.number, values)
  run.onPart?.({ ...part, ...values }, 1)
}

interface Opened {
  engine: Engine
  picture: Picture
  development: Development
}

/** A frame and its place in the run. */
interface Numbered {
  source: FrameSource
  number: number
  of: number
}

/** Makes all files of one frame. @param onDeveloped told when what is left is to encode the last of them */
async function makeOf(
  run: Run,
  numbered: Numbered,
  parts: readonly Part[],
  onDeveloped: () => void,
): Promise<void> {
  const { source } = numbered
  let opened: Opened | undefined
  const open = async () => {
    if (!opened) {
      const engine = await run.engine()
      const picture = await source.open(engine, run.signal)
      opened = { engine, picture, development: source.development }
      if (source.found) opened.development = await source.found(picture)
    }
    return opened
  }
  const close = () => {
    opened?.engine.close(opened.picture)
    opened = undefined
  }
  const last = parts.findLast((p) => run.deliveries[p.delivery].format.kind !== 'original')
  const lastDeveloped = () => {
    close()
    onDeveloped()
  }
  try {
    for (const part of parts) {
      run.signal.throwIfAborted()
      await makePart(run, numbered, part, open, part === last ? lastDeveloped : undefined)
    }
  } finally {
    close()
  }
}

/** What a part came to before its file has its name. */
interface Written {
  /** Of the file, with its ending. */
  name: string
  size?: Extent
  /** What is done once the file has its name. */
  placed?(file: string): Promise<void>
}

/**
 * Makes one part: its file is written beside its place and named when it is whole. What goes wrong is noted.
 * @param write writes the file at the part's `partial`
 * @throws what the run's signal aborts with
 */
async function carryOut(
  run: Run,
  part: Part,
  folderOf: () => string | Promise<string>,
  write: (part: Part & { partial: string }) => Promise<Written>,
): Promise<void> {
  const { journal, signal } = run
  let partial: string | undefined
  try {
    const folder = await folderOf()
    await mkdir(folder, { recursive: true })
    partial = join(folder, `.${randomUUID()}${PARTIAL}`)
    journal.set(part.number, { state: 'making', partial })
    const current = { ...part, partial }
    const { name, size, placed } = await write(current)
    signal.throwIfAborted()
    const file = await placeFile(journal, current, join(folder, name), run.deliveries[part.delivery].taken)
    if (file) await placed?.(file)
    // before it is noted as done: nobody would look for it any more
    await removePartial(partial)
    end(run, part, {
      state: file ? 'done' : 'skipped',
      ...{ file, ...size, partial: undefined },
      message: file ? undefined : 'A file of that name is there.',
    })
  } catch (error) {
    if (partial) await removePartial(partial)
    if (signal.aborted) {
      journal.set(part.number, { state: 'waiting', partial: undefined })
      throw error
    }
    end(run, part, { state: 'failed', partial: undefined, message: run.sentence(error) })
  }
}

/** Makes the pages that hold all frames. */
async function makePages(
  run: Run,
  part: Part,
  numbers: ReadonlyMap<string, Omit<Numbered, 'source'>>,
): Promise<void> {
  const delivery = run.deliveries[part.delivery]
  const { format } = delivery
  if (format.kind !== 'pdf') return
  const numbered = async (id: string): Promise<Numbered> => ({
    source: await run.frame(id),
    ...numbers.get(id)!,
  })
  const folder = async () => run.folder(delivery, await run.frame(part.frame))
  await carryOut(run, part, folder, async (current) => {
    const profile = await profileFor(run, delivery)
    const sheets = new Sheets(delivery, format, current.partial, delivery.name, profile)
    try {
      for (const [i, id] of run.frames.entries()) {
        run.signal.throwIfAborted()
        const onProgress = (done: number, all: number) =>
          run.onPart?.(current, (i + done / all) / run.frames.length)
        await addToPages(run, sheets, await numbered(id), delivery, onProgress)
      }
      await sheets.close()
    } catch (error) {
      await sheets.abort()
      throw error
    }
    return { name: fileName(delivery, await numbered(part.frame), undefined) }
  })
}

/** Bytes of the loaded profile that a delivery wants. */
const profileFor = ({ profile }: Run, { space }: Delivery): Promise<Uint8Array> | undefined =>
  typeof space === 'object' ? profile(space.profile) : undefined

async function addToPages(
  run: Run,
  sheets: Sheets,
  { source, number, of }: Numbered,
  delivery: Delivery,
  onProgress: (done: number, all: number) => void,
): Promise<void> {
  let opened: { engine: Engine; picture: Picture } | undefined
  try {
    const engine = await run.engine()
    const picture = await source.open(engine, run.signal)
    opened = { engine, picture }
    const development = source.found ? await source.found(picture) : source.development
    const facts: NameFacts = { ...source.facts, delivery: delivery.name, number, of }
    await sheets.add({ picture, development, facts }, run.signal, onProgress, run.stepBack)
  } catch (error) {
    if (!run.signal.aborted && error instanceof Error)
      throw Object.assign(error, { message: `${source.originalName}: ${error.message}` })
    throw error
  } finally {
    opened?.engine.close(opened.picture)
  }
}

async function makePart(
  run: Run,
  numbered: Numbered,
  part: Part,
  open: () => Promise<Opened>,
  onDeveloped?: () => void,
): Promise<void> {
  const { source } = numbered
  const delivery = run.deliveries[part.delivery]
  const folder = () => run.folder(delivery, source)
  if (delivery.format.kind === 'original')
    return carryOut(run, part, folder, async ({ partial }) => {
      await copyWhole(source.original, partial)
      return {
        name: fileName(delivery, numbered, undefined),
        placed: (file) => addSidecar(delivery, source, file),
      }
    })
  return carryOut(run, part, folder, async (current) => {
    const { picture, development } = await open()
    const metadata = carried(source.metadata(picture.frame.metadata), delivery.metadata)
    const made = delivery.format.kind === 'dng' ? leftToDo(development) : development
    const profile = await profileFor(run, delivery)
    const size = await deliverFile(
      ...([picture, development, delivery, current.partial] as const),
      { profile, metadata, xmp: source.xmp?.(delivery, made) },
      {
        ...{ signal: run.signal, stepBack: run.stepBack, onDeveloped },
        onProgress: (done, all) => run.onPart?.(current, done / all),
      },
    )
    return { name: fileName(delivery, numbered, size), size }
  })
}

/** The name of a delivery's file, with its ending. */
function fileName(delivery: Delivery, { source, number, of }: Numbered, size: Extent | undefined): string {
  const facts: NameFacts = { ...source.facts, delivery: delivery.name, number, of, ...size }
  return nameFrom(delivery.fileName, facts) + endingOf(delivery, source.originalName)
}

/** The ending of a delivery's file. */
export const endingOf = (delivery: Delivery, originalName: string): string =>
  FILE_FORMATS[delivery.format.kind].ending || extname(originalName).toLowerCase()

async function copyWhole(from: string, to: string): Promise<void> {
  await copyFile(from, to)
  await syncFile(to)
}

async function addSidecar(delivery: Delivery, source: FrameSource, file: string): Promise<void> {
  const { format } = delivery
  if (format.kind !== 'original' || !format.sidecar || !source.sidecar) return
  await writeWhole(`${file}.xmp`, new TextEncoder().encode(await source.sidecar()), { replace: true })
}

/** How large a delivery makes a finished picture, for a preview of what is to be. */
export const sizeIn = (delivery: Delivery, finished: Extent): Extent | undefined => {
  if (FILE_FORMATS[delivery.format.kind].holds !== 'picture') return undefined
  const { width, height } = layoutOf(delivery.size, delivery.border, finished)
  return { width, height }
}
