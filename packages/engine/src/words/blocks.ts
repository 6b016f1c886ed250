import { BASIC_NAMESPACE, readDirectories } from '@dunkelkammer/core'
import { inflateSync } from 'node:zlib'
import { concatenated, viewOf } from '../formats/bytes'
import { xmpOf } from '../formats/container/properties'
import type { FormatId } from '../formats/identify'
import { chunks } from '../formats/png/chunks'
import { webpChunk } from '../formats/webp'

/** Where words lie in a file: blocks as they stand there. */
export interface WordBlocks {
  xmp?: Uint8Array
  iim?: Uint8Array
  /** What the writer of the XMP noted of the IIM then: its MD5. */
  iimDigest?: Uint8Array
  /** Texts of a PNG under the keywords that its standard names. */
  texts?: ReadonlyMap<string, string>
}

const [XMP, IIM, RESOURCES] = [700, 33723, 34377]
const [IIM_RESOURCE, DIGEST_RESOURCE] = [0x0404, 0x0425]
/** Longest text of a PNG that is unpacked. */
const MOST_TEXT = 1 << 20

const latin = (bytes: Uint8Array) => new TextDecoder('latin1').decode(bytes)
const bytesOf = (text: string) => Uint8Array.from(text, (c) => c.charCodeAt(0))
const RESOURCE = bytesOf('8BIM')
const XMP_MARK = bytesOf(`${BASIC_NAMESPACE}\0`)

const startsWith = (bytes: Uint8Array, mark: Uint8Array, at = 0) => mark.every((v, i) => bytes[at + i] === v)

/** Blocks among image resources: each with a mark, a number, a name and its size. */
function inResources(bytes: Uint8Array): WordBlocks {
  const found: WordBlocks = {}
  const view = viewOf(bytes)
  for (let at = 0; at + 12 <= bytes.length && startsWith(bytes, RESOURCE, at);) {
    const id = view.getUint16(at + 4)
    // a name of odd length fills its place
    const start = at + 6 + ((bytes[at + 6] + 2) & ~1)
    if (start + 4 > bytes.length) break
    const size = view.getUint32(start)
    const data = bytes.subarray(start + 4, start + 4 + size)
    if (id === IIM_RESOURCE) found.iim = data
    if (id === DIGEST_RESOURCE && size === 16) found.iimDigest = data
    at = start + 4 + ((size + 1) & ~1)
  }
  return found
}

function ofJpeg(bytes: Uint8Array): WordBlocks {
  let found: WordBlocks = {}
  const resources: Uint8Array[] = []
  for (let at = 2; at + 4 <= bytes.length && bytes[at] === 0xff && bytes[at + 1] !== 0xda;) {
    if (bytes[at + 1] === 0xff) {
      at++
      continue
    }
    const size = (bytes[at + 2] << 8) | bytes[at + 3]
    const body = bytes.subarray(at + 4, at + 2 + size)
    if (bytes[at + 1] === 0xe1 && startsWith(body, XMP_MARK)) found.xmp = body.subarray(XMP_MARK.length)
    // the resources follow the writer's name
    const named = bytes[at + 1] === 0xed ? body.indexOf(0) + 1 : 0
    if (named > 0 && startsWith(body, RESOURCE, named)) resources.push(body.subarray(named))
    at += 2 + size
  }
  // long ones go on in the next segment
  if (resources.length) found = { ...found, ...inResources(concatenated(resources)) }
  return found
}

const unpacked = (data: Uint8Array) => new Uint8Array(inflateSync(data, { maxOutputLength: MOST_TEXT }))

/** A keyword of a PNG's text and the text: plain, packed, or of any language (PNG, 3rd edition, 11.3.3). */
function textOf(kind: string, body: Uint8Array): [string, string] | undefined {
  const end = body.indexOf(0)
  if (end < 1) return undefined
  const keyword = latin(body.subarray(0, end))
  if (kind === 'tEXt') return [keyword, latin(body.subarray(end + 1))]
  if (kind === 'zTXt') return [keyword, latin(unpacked(body.subarray(end + 2)))]
  const packed = body[end + 1] === 1
  const language = body.indexOf(0, end + 3)
  const translated = language < 0 ? -1 : body.indexOf(0, language + 1)
  if (translated < 0) return undefined
  const data = body.subarray(translated + 1)
  return [keyword, new TextDecoder().decode(packed ? unpacked(data) : data)]
}

/** What some writers keep in a text of its own kind: a line of its name, one of its length, then hexadecimal digits. */
function profileOf(text: string): Uint8Array {
  const [, , ...lines] = text.trim().split('\n')
  return new Uint8Array(Buffer.from(lines.join('').replace(/[^0-9a-fA-F]/g, ''), 'hex'))
}

function ofPng(bytes: Uint8Array): WordBlocks {
  let found: WordBlocks = {}
  const texts = new Map<string, string>()
  for (const kind of ['tEXt', 'zTXt', 'iTXt'])
    for (const body of chunks(bytes, kind))
      try {
        const [keyword, text] = textOf(kind, body) ?? ['', '']
        if (keyword.startsWith('XML:') && keyword.endsWith('.xmp')) found.xmp = new TextEncoder().encode(text)
        else if (keyword === 'Raw profile type iptc') {
          const block = profileOf(text)
          found = { ...found, ...(startsWith(block, RESOURCE) ? inResources(block) : { iim: block }) }
        } else if (keyword && !texts.has(keyword)) texts.set(keyword, text)
      } catch {
        // a text that cannot be unpacked says nothing
      }
  return { ...found, texts }
}

function ofTiff(bytes: Uint8Array): WordBlocks {
  const [main] = readDirectories(bytes)
  const some = (tag: number) => {
    const data = main.bytes(tag)
    return data.length ? data : undefined
  }
  const resources = some(RESOURCES)
  const { iim, iimDigest } = resources ? inResources(resources) : {}
  return { xmp: some(XMP), iim: some(IIM) ?? iim, iimDigest }
}

function blocksIn(bytes: Uint8Array, format: FormatId): WordBlocks {
  switch (format) {
    case 'jpeg':
      return ofJpeg(bytes)
    case 'png':
      return ofPng(bytes)
    case 'webp':
      return { xmp: webpChunk(bytes, 'XMP ') }
    case 'avif':
    case 'heif':
      return { xmp: xmpOf(bytes) }
    default:
      return ofTiff(bytes)
  }
}

/** Copies of the blocks that hold words; nothing of what is damaged. */
export function wordBlocks(bytes: Uint8Array, format: FormatId): WordBlocks {
  try {
    const { xmp, iim, iimDigest, texts } = blocksIn(bytes, format)
    return { xmp: xmp?.slice(), iim: iim?.slice(), iimDigest: iimDigest?.slice(), texts }
  } catch {
    // makers' raw files are of many forms, and words no reason to refuse a picture
    return {}
  }
}
