import {
  cuttingLines,
  filledIn,
  inCell,
  pageOf,
  type Delivery,
  type Development,
  type Extent,
  type FileFormat,
  type NameFacts,
  type Page,
  type PaperRect,
} from '@dunkelkammer/core'
import { createWriteStream } from 'node:fs'
import { readFile, rm } from 'node:fs/promises'
import { finished as ended } from 'node:stream/promises'
import PDFDocument from 'pdfkit'
import type { Picture } from '../host/picture'
import { deliverFile } from './deliver'
import { outlinesOf } from './finish/words'
import { profileOf } from './order'
import { syncFile } from './writeFile'

type Pdf = Extract<FileFormat, { kind: 'pdf' }>

/** Ending of the file that a picture is, beside that of the pages, until it is on one. */
export const SAMPLE = '.jpg'

/** A picture that goes onto a page. */
export interface SheetPicture {
  picture: Picture
  development: Development
  /** What its caption is made of. */
  facts: NameFacts
}

/** What a delivery of pages asks of a picture: a JPEG of the size that its cell wants. */
export function onSheet(
  delivery: Delivery,
  format: Pdf,
  finished: Extent,
  [cell] = pageOf(format, finished).cells,
): Delivery {
  const { pixels, ppi } = inCell(cell, finished, format.ppi)
  return {
    ...delivery,
    format: { kind: 'jpeg', quality: format.quality, chroma: '4:4:4' },
    size: { by: 'fit', ...atLeast(pixels), enlarge: false, kernel: 'lanczos', ppi },
  }
}
const atLeast = ({ width, height }: Extent) => ({ width: Math.max(width, 16), height: Math.max(height, 16) })

/** Pages of pictures with the delivery's profile, written as they are made. */
export class Sheets {
  private readonly document: PDFKit.PDFDocument
  private readonly written: Promise<void>
  private profile: PDFKit.PDFKitReference | undefined
  private page: Page | undefined
  private at = 0

  /** @param title of the document */
  constructor(
    private readonly delivery: Delivery,
    private readonly format: Pdf,
    private readonly path: string,
    title: string,
    private readonly icc?: Uint8Array,
  ) {
    this.document = new PDFDocument({ autoFirstPage: false, pdfVersion: '1.7', info: { Title: title } })
    const file = createWriteStream(path, { flags: 'wx' })
    this.written = ended(this.document.pipe(file))
    // told when it is waited for
    this.written.catch(() => undefined)
  }

  /**
   * Puts a picture into the next cell.
   * @throws Superseded where `signal` aborts; RawError where the profile cannot be used
   */
  async add(
    { picture, development, facts }: SheetPicture,
    signal?: AbortSignal,
    onProgress?: (done: number, all: number) => void,
    stepBack?: (ms: number) => Promise<void>,
  ): Promise<void> {
    const { finished } = await picture.square(development)
    if (!this.page || this.at === this.page.cells.length) this.begin(pageOf(this.format, finished))
    const cell = this.page!.cells[this.at++]
    const wanted = onSheet(this.delivery, this.format, finished, [cell])
    const sample = this.path + SAMPLE
    try {
      const size = await deliverFile(
        ...([picture, development, wanted, sample] as const),
        { profile: this.icc },
        { signal, onProgress, stepBack },
      )
      // a border makes it wider or higher
      const { at, ppi } = inCell(cell, size, this.format.ppi)
      this.draw(await readFile(sample), size, at, this.profileOf())
      if (this.format.caption) this.write(filledIn(this.format.caption, { ...facts, ...size, ppi }), cell)
      if (this.format.cuttingMarks) this.mark(at)
    } finally {
      await rm(sample, { force: true })
    }
  }

  /** Completes the file. @throws where it cannot be written */
  async close(): Promise<void> {
    this.document.end()
    await this.written
    await syncFile(this.path)
  }

  /** Lets go of the file. */
  async abort(): Promise<void> {
    this.document.end()
    await this.written.catch(() => undefined)
    await rm(this.path, { force: true })
  }

  private begin(page: Page): void {
    this.page = page
    this.at = 0
    this.document.addPage({ size: [page.width, page.height], margin: 0 })
  }

  /** The profile's object, written once (ISO 32000-1, 8.6.5.5). */
  private profileOf(): PDFKit.PDFKitReference {
    if (this.profile) return this.profile
    const { space } = this.delivery
    const icc = typeof space === 'string' ? profileOf(space).icc! : this.icc!
    const reference = this.document.ref({ N: 3, Alternate: 'DeviceRGB' })
    reference.end(Buffer.from(icc))
    return (this.profile = reference)
  }

  /** A JPEG as it is, in the colours of the profile. */
  private draw(jpeg: Buffer, size: Extent, at: PaperRect, profile: PDFKit.PDFKitReference): void {
    const image = this.document.ref({
      ...{ Type: 'XObject', Subtype: 'Image', Width: size.width, Height: size.height },
      ...{ BitsPerComponent: 8, ColorSpace: ['ICCBased', profile], Filter: 'DCTDecode' },
    })
    image.end(jpeg)
    const name = `Picture${this.at}`
    this.document.page.xobjects[name] = image
    const from = this.page!.height - at.y - at.height
    this.document.save()
    // the page's own coordinates run downwards
    this.document.transform(at.width, 0, 0, -at.height, at.x, from + at.height)
    this.document.addContent(`/${name} Do`)
    this.document.restore()
  }

  private write(words: string, cell: PaperRect): void {
    if (!words.trim()) return
    const { captionSize } = this.format
    const { path, width } = outlinesOf(words)
    // what is too long for the cell is set smaller
    const size = Math.min(captionSize, cell.width / width)
    const top = this.page!.height - cell.y + (this.page!.caption - captionSize) / 2
    this.document.save()
    this.document.translate(cell.x + (cell.width - width * size) / 2, top)
    this.document.scale(size)
    this.document.path(path).fill('black')
    this.document.restore()
  }

  private mark(at: PaperRect): void {
    const { height } = this.page!
    for (const [x1, y1, x2, y2] of cuttingLines(at))
      this.document.moveTo(x1, height - y1).lineTo(x2, height - y2)
    this.document.lineWidth(0.25).stroke('black')
  }
}
