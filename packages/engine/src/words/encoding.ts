/** Encodings that every reader of XML knows. */
export type XmlEncoding = 'utf-8' | 'utf-16le' | 'utf-16be'

/** An encoding tells itself by how the beginning lies (XML 1.0, appendix F). */
export function encodingOf([a, b]: Uint8Array): XmlEncoding {
  if ((a === 0xfe && b === 0xff) || (a === 0 && b === 0x3c)) return 'utf-16be'
  if ((a === 0xff && b === 0xfe) || (a === 0x3c && b === 0)) return 'utf-16le'
  return 'utf-8'
}

/** Text of XML; a mark of its encoding stays at its beginning. */
export const decodedXml = (bytes: Uint8Array): string =>
  new TextDecoder(encodingOf(bytes), { ignoreBOM: true }).decode(bytes)

/** Bytes of a text in an encoding. */
export function encodedXml(text: string, encoding: XmlEncoding): Uint8Array {
  if (encoding === 'utf-8') return new TextEncoder().encode(text)
  const bytes = Buffer.from(text, 'utf16le')
  return new Uint8Array(encoding === 'utf-16be' ? bytes.swap16() : bytes)
}
