/** What is known of a file when its name is made. */
export interface NameFacts {
  /** Name of the original without ending. */
  name: string
  shoot: string
  version: string
  delivery: string
  /** ISO 8601, of the taking. */
  taken?: string
  camera?: string
  lens?: string
  stars: number
  /** Place in the run, from 1, and how many there are. */
  number: number
  of: number
  width?: number
  height?: number
  /** Pixels to the inch of paper. */
  ppi?: number
}

/** The words in braces that stand for something in a file's name. */
export const NAME_TOKENS = {
  name: { label: 'Name of the original', of: (f: NameFacts) => f.name },
  shoot: { label: 'Shoot', of: (f: NameFacts) => f.shoot },
  version: { label: 'Version', of: (f: NameFacts) => f.version },
  delivery: { label: 'Delivery', of: (f: NameFacts) => f.delivery },
  date: { label: 'Date of the photograph', of: (f: NameFacts) => f.taken?.slice(0, 10) ?? 'undated' },
  time: {
    label: 'Time of the photograph',
    of: (f: NameFacts) => f.taken?.slice(11, 19).replace(/:/g, '') ?? 'undated',
  },
  number: {
    label: 'Running number',
    of: (f: NameFacts) => String(f.number).padStart(Math.max(String(f.of).length, 2), '0'),
  },
  stars: { label: 'Stars', of: (f: NameFacts) => String(f.stars) },
  camera: { label: 'Camera', of: (f: NameFacts) => f.camera ?? 'unknown camera' },
  lens: { label: 'Lens', of: (f: NameFacts) => f.lens ?? 'unknown lens' },
  width: { label: 'Width in pixels', of: (f: NameFacts) => String(f.width ?? '') },
  height: { label: 'Height in pixels', of: (f: NameFacts) => String(f.height ?? '') },
  ppi: { label: 'Pixels per inch', of: (f: NameFacts) => String(f.ppi ?? '') },
} as const

/** Most bytes of a name without ending: with an ending and a number it has to fit into the 255 that disks allow. */
export const MAX_NAME_BYTES = 230

const BRACES = /\{([^{}]*)\}/g
const isToken = (word: string): word is keyof typeof NAME_TOKENS => Object.hasOwn(NAME_TOKENS, word)

/** What is wrong with a pattern for names, as a sentence; nothing where it can be used. */
export function namePatternProblem(pattern: string): string | undefined {
  if (!pattern.trim()) return 'A name is needed.'
  for (const [whole, word] of pattern.matchAll(BRACES))
    if (!isToken(word)) return `${whole} stands for nothing.`
  if (/[{}]/.test(pattern.replace(BRACES, ''))) return 'A brace is open.'
  return undefined
}

/** Names that some systems keep for devices. */
const DEVICES = /^(con|prn|aux|nul|com\d|lpt\d)$/i

/** A name that every disk takes: what none allows becomes a hyphen, and what is too long is cut. */
export function safeName(name: string): string {
  const plain = name
    .normalize('NFC')
    .replace(/[/\\:*?"<>|\p{Cc}]/gu, '-')
    .replace(/^[.\s]+|[.\s]+$/g, '')
  let out = ''
  let bytes = 0
  for (const letter of plain) {
    bytes += new TextEncoder().encode(letter).length
    if (bytes > MAX_NAME_BYTES) break
    out += letter
  }
  out = out.replace(/[.\s]+$/, '')
  return !out ? 'picture' : DEVICES.test(out) ? `${out}-` : out
}

/** Words with what their tokens stand for. */
export const filledIn = (pattern: string, facts: NameFacts): string =>
  pattern.replace(BRACES, (whole, word: string) => (isToken(word) ? NAME_TOKENS[word].of(facts) : whole))

/** The name of a file, without ending, as a pattern makes it. */
export const nameFrom = (pattern: string, facts: NameFacts): string => safeName(filledIn(pattern, facts))
