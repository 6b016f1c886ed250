/** Words as records of the older standard hold them (IPTC IIM 4.2), as far as they are read. */
export interface IimWords {
  title?: string
  caption?: string
  creator?: string
  copyright?: string
  keywords: string[]
}

const [ENVELOPE, APPLICATION] = [1, 2]
const [CODED_SET, TITLE, KEYWORD, CREATOR, COPYRIGHT, CAPTION] = [90, 5, 25, 80, 116, 120]
const MOST = 2000

/** Escape sequence that announces UTF-8 (ISO 2022). */
const UTF8 = [0x1b, 0x25, 0x47]

interface Dataset {
  record: number
  number: number
  data: Uint8Array
}

/** Data sets one after the other; what is damaged ends them. */
function* datasets(bytes: Uint8Array): Generator<Dataset> {
  let count = 0
  for (let at = 0; at + 5 <= bytes.length && bytes[at] === 0x1c && count < MOST; count++) {
    const [record, number] = [bytes[at + 1], bytes[at + 2]]
    let size = (bytes[at + 3] << 8) | bytes[at + 4]
    let start = at + 5
    if (size & 0x8000) {
      // an extended data set says how many bytes its length has
      const digits = size & 0x7fff
      if (digits > 4 || start + digits > bytes.length) return
      size = 0
      for (let i = 0; i < digits; i++) size = size * 256 + bytes[start++]
    }
    if (start + size > bytes.length) return
    yield { record, number, data: bytes.subarray(start, start + size) }
    at = start + size
  }
}

/** Many write UTF-8 without saying so; what is none is of one byte a letter. */
function textOf(data: Uint8Array, utf8: boolean): string {
  try {
    return new TextDecoder('utf-8', { fatal: !utf8 }).decode(data).trim()
  } catch {
    return new TextDecoder('windows-1252').decode(data).trim()
  }
}

/** What a block of IIM says. */
export function readIim(bytes: Uint8Array): IimWords {
  const found: IimWords = { keywords: [] }
  const creators: string[] = []
  let utf8 = false
  for (const { record, number, data } of datasets(bytes)) {
    if (record === ENVELOPE && number === CODED_SET) utf8 = UTF8.every((v, i) => data[i] === v)
    if (record !== APPLICATION) continue
    const text = textOf(data, utf8)
    if (!text) continue
    if (number === TITLE) found.title ??= text
    else if (number === CAPTION) found.caption ??= text
    else if (number === COPYRIGHT) found.copyright ??= text
    else if (number === CREATOR) creators.push(text)
    else if (number === KEYWORD) found.keywords.push(text)
  }
  if (creators.length) found.creator = creators.join(', ')
  return found
}
