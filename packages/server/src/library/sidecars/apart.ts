import { OWN_NAMESPACE as OWN } from '@dunkelkammer/core'

/**
 * The developments in a sidecar are long, and plain text: they are taken out before the rest is parsed and put in after
 * it is written, so that what is parsed stays small.
 */
export interface Apart {
  /** The sidecar with the developments left empty. */
  rest: string
  development: string
}

const NAME = ':development>'

/** @returns nothing where a sidecar has no developments of ours as the text of an element */
export function takenApart(xmp: string): Apart | undefined {
  const prefix = new RegExp(`xmlns:([\\w.-]{1,40})\\s*=\\s*["']${OWN}["']`).exec(xmp)?.[1]
  if (!prefix) return undefined
  const open = xmp.indexOf(`<${prefix}${NAME}`)
  if (open < 0) return undefined
  const from = open + prefix.length + 1 + NAME.length
  const to = xmp.indexOf('<', from)
  if (to < 0 || !xmp.startsWith(`</${prefix}${NAME}`, to)) return undefined
  return { rest: xmp.slice(0, from) + xmp.slice(to), development: unescaped(xmp.slice(from, to)) }
}

const MOST_POINT = 0x10ffff
const numbered = (whole: string, tens?: string, sixteens?: string) => {
  const point = tens ? Number(tens) : parseInt(sixteens!, 16)
  return point <= MOST_POINT ? String.fromCodePoint(point) : whole
}

const unescaped = (text: string): string =>
  (text.includes('&#') ? text.replace(/&#(?:(\d{1,7})|x([0-9a-fA-F]{1,6}));/g, numbered) : text)
    .replaceAll('&lt;', '<')
    .replaceAll('&gt;', '>')
    .replaceAll('&quot;', '"')
    .replaceAll('&apos;', "'")
    .replaceAll('&amp;', '&')
