/** The namespace of our own properties: stars, mark and developments. */
export const OWN = 'urn:dunkelkammer:1'
