import { LOOKS, type Development, type LookSettings } from '@dunkelkammer/core'

/** One look on offer. */
export interface Offer {
  key: string
  name: string
  about: string
  group: string
  /** Whether a development has it; by the look's id where not said. */
  chosen?(d: Development): boolean
  /** What the development becomes. */
  apply(d: Development): Development
  /** Takes it out of the library. */
  remove?(): Promise<void>
}

const NONE: LookSettings = { kind: 'none', id: '', name: '' }

/** A development under a look, switched on. */
export const withLook = (d: Development, look: LookSettings): Development => ({
  ...d,
  steps: { ...d.steps, look },
  off: d.off.filter((id) => id !== 'look'),
})

/** The looks that come with the application, and none. */
export const OWN_OFFERS: readonly Offer[] = [
  {
    key: 'none',
    name: 'None',
    about: 'As developed',
    group: 'Colour',
    chosen: (d) => d.steps.look.kind === 'none',
    apply: (d) => withLook(d, NONE),
  },
  ...LOOKS.map((l): Offer => ({
    key: l.id,
    name: l.name,
    about: l.about,
    group: l.kind === 'colour' ? 'Colour' : 'Monochrome',
    apply: (d) => withLook(d, { kind: 'own', id: l.id, name: l.name }),
  })),
]

export const isChosen = (offer: Offer, d: Development): boolean =>
  offer.chosen ? offer.chosen(d) : d.steps.look.kind !== 'none' && d.steps.look.id === offer.key
