/** The namespace of our own properties in XMP. */
export const OWN_NAMESPACE = 'urn:dunkelkammer:1'

/**
 * Properties as an XMP packet (ISO 16684-1).
 * @param properties elements under the prefixes `dc`, `dk` (our own) and `rdf`, escaped
 */
export const xmpPacket = (
  properties: readonly string[],
): string => `<?xpacket begin="\uFEFF" id="W5M0MpCehiHzreSzNTczkc9d"?>
<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
 <rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:dk="${OWN_NAMESPACE}">
  ${properties.join('\n  ')}
 </rdf:Description>
</rdf:RDF>
<?xpacket end="w"?>
`
