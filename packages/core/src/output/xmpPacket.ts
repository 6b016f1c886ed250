import { fromBase64 } from '../base64'

/** The namespace of the standard's basic properties, as bytes since it names a maker (ISO 16684-1, 8.4). */
export const BASIC_NAMESPACE = new TextDecoder().decode(
  fromBase64('aHR0cDovL25zLmFkb2JlLmNvbS94YXAvMS4wLw=='),
)
/** The namespace of our own properties in XMP. */
export const OWN_NAMESPACE = 'urn:dunkelkammer:1'

/**
 * Properties as an XMP packet (ISO 16684-1).
 * @param properties elements under the prefixes `dc`, `xmp`, `dk` (our own) and `rdf`, escaped
 */
export const xmpPacket = (
  properties: readonly string[],
): string => `<?xpacket begin="\uFEFF" id="W5M0MpCehiHzreSzNTczkc9d"?>
<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
 <rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:xmp="${BASIC_NAMESPACE}" xmlns:dk="${OWN_NAMESPACE}">
  ${properties.join('\n  ')}
 </rdf:Description>
</rdf:RDF>
<?xpacket end="w"?>
`
