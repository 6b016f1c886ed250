import type { Text } from '@dunkelkammer/contract'
import { BASIC_NAMESPACE } from '@dunkelkammer/core'

/** Words of all kinds. */
export const text: Text = {
  title: 'Lock & <gate>',
  caption: 'The lock\nin the "morning"',
  creator: 'Marit Oudendijk',
  copyright: '© Hollenbeek Mills trust',
  keywords: ['früh', '水門', 'a & b'],
}
/** A sidecar of another program: words of ours, of others, in two languages, and things we know nothing of. */
export const FOREIGN = `<?xpacket begin="\uFEFF" id="W5M0MpCehiHzreSzNTczkc9d"?>
<!-- kept by hand -->
<x:xmpmeta xmlns:x="urn:example:packet">
 <rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
  <rdf:Description rdf:about="" xmlns:other="urn:other:1" xmlns:xmp="${BASIC_NAMESPACE}"
    other:grade="7" xmp:Rating="2">
   <other:steps><rdf:Seq><rdf:li other:kind="a">one &amp; two</rdf:li></rdf:Seq></other:steps>
  </rdf:Description>
  <rdf:Description rdf:about="" xmlns:d="http://purl.org/dc/elements/1.1/">
   <d:title><rdf:Alt><rdf:li xml:lang="x-default">Old</rdf:li><rdf:li xml:lang="de">Schleuse</rdf:li></rdf:Alt></d:title>
   <d:subject><rdf:Bag><rdf:li>old</rdf:li></rdf:Bag></d:subject>
   <d:format>image/x-raw</d:format>
  </rdf:Description>
 </rdf:RDF>
</x:xmpmeta>
<?xpacket end="w"?>`
