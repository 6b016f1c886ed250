import { LOOKS, type Development, type LookSettings } from '@dunkelkammer/core'
import type { Offer } from '../offers/offer'

/** One look on offer. */
export interface LookOffer extends Offer {
  /** Whether a development has it; by the look's id where not said. */
  chosen?(d: Development): boolean
}

const NONE: LookSettings = { kind: 'none', id: '', name: '' }

/** A development under a look, switched on. */
export const withLook = (d: Development, look: LookSettings): Development => ({
  ...d,
  steps: { ...d.steps, look },
  off: d.off.filter((id) => id !== 'look'),
})

/** The looks that come with the application, and none. */
export const OWN_OFFERS: readonly LookOffer[] = [
  {
    key: 'none',
    name: 'None',
    about: 'As developed',
    group: 'Colour',
    chosen: (d) => d.steps.look.kind === 'none',
    apply: (d) => withLook(d, NONE),
  },
  ...LOOKS.map((l): LookOffer => ({
    key: l.id,
    name: l.name,
    about: l.about,
    group: l.kind === 'colour' ? 'Colour' : 'Monochrome',
    apply: (d) => withLook(d, { kind: 'own', id: l.id, name: l.name }),
  })),
]

export const isChosen = (offer: LookOffer, d: Development): boolean =>
  offer.chosen ? offer.chosen(d) : d.steps.look.kind !== 'none' && d.steps.look.id === offer.key
