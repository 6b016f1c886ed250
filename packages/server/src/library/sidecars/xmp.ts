import { MARKS, type Mark, type Text } from '@dunkelkammer/contract'
import { BASIC_NAMESPACE, MADE_BY, OWN_NAMESPACE as OWN, xmpPacket } from '@dunkelkammer/core'
import { inElement, NotXmp, Properties, wordElements, wordsIn } from '@dunkelkammer/engine/words'
import { HttpProblem } from '../../problem'
import { takenApart } from './apart'

/** What a sidecar says of a frame. */
export interface Sidecar {
  text: Partial<Text>
  rating?: number
  mark?: Mark
  /** What another program marked it with. */
  label?: string
  /** When it was last changed, ISO 8601. */
  changed?: string
  /** Developments as a property of ours holds them, see `records.ts`; not checked yet. */
  development?: string
}

/** Most characters of a sidecar. */
export const MAX_XMP = 16 << 20

/** Stars as other programs have them: -1 for what was dropped. */
export const standardRating = (rating: number, mark: Mark): string => String(mark === 'drop' ? -1 : rating)

/** What more a packet may say. */
interface More {
  /** See `records.ts`. */
  development?: string
  /** How a delivered file was made, see MadeBy. */
  madeBy?: string
  /** What another program marked it with. */
  label?: string
  /** When it is written, ISO 8601. */
  changed?: string
}

/**
 * Words of a frame as XMP (ISO 16684-1), in the properties that IPTC core names for them; its stars where the
 * standard has them, and with its mark in properties of our own.
 */
export function writeXmp(
  text: Text,
  rating: number,
  mark: Mark,
  { development, madeBy, label, changed }: More = {},
): string {
  const parts = [
    ...wordElements(text, label),
    changed !== undefined && `<xmp:MetadataDate>${changed}</xmp:MetadataDate>`,
    `<xmp:Rating>${standardRating(rating, mark)}</xmp:Rating>`,
    `<dk:rating>${rating}</dk:rating>`,
    `<dk:ratingWritten>${standardRating(rating, mark)}</dk:ratingWritten>`,
    mark !== 'none' && `<dk:mark>${mark}</dk:mark>`,
    madeBy !== undefined && `${MADE_BY.open}${madeBy}${MADE_BY.close}`,
    development !== undefined && `<dk:development>${inElement(development)}</dk:development>`,
  ]
  return xmpPacket(parts.filter((part): part is string => Boolean(part)))
}

export const notXmp = () => new HttpProblem(422, 'damaged', 'This sidecar is not XMP.')

/**
 * Reads a sidecar; what it does not say is left out.
 * @throws HttpProblem where it is not XMP
 */
export function readXmp(xml: string): Sidecar {
  const apart = takenApart(xml)
  const properties = propertiesOf(apart?.rest ?? xml)
  const { words, label, changed } = wordsIn(properties)
  const { stars, mark } = starsOf(properties)
  const development = apart?.development ?? properties.one(OWN, 'development')
  return {
    ...{ text: words, mark, rating: stars >= 0 && stars <= 5 ? Math.round(stars) : undefined },
    ...{ label, changed },
    ...(development !== undefined && { development }),
  }
}

/** @throws HttpProblem where a text is not XMP */
function propertiesOf(xml: string): Properties {
  try {
    return new Properties(xml)
  } catch (error) {
    if (error instanceof NotXmp) throw notXmp()
    throw error
  }
}

/**
 * Stars and mark: ours, but where another program has changed the standard's rating since, by that; in it -1 says that a
 * picture was dropped.
 */
function starsOf(p: Properties): { stars: number; mark: Mark | undefined } {
  const [own, written] = ['rating', 'ratingWritten'].map((name) => p.one(OWN, name))
  const standard = p.one(BASIC_NAMESPACE, 'Rating')
  const said = p.one(OWN, 'mark') as Mark | undefined
  const mark = said && MARKS.includes(said) ? said : undefined
  const changed =
    own === undefined || (written !== undefined && standard !== undefined && standard !== written)
  if (!changed || standard === undefined) return { stars: Number(own ?? NaN), mark }
  if (Number(standard) === -1) return { stars: Number(own ?? NaN), mark: 'drop' }
  return { stars: Number(standard), mark: mark === 'drop' ? 'none' : mark }
}
