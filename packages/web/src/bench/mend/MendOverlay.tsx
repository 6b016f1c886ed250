import { DustOverlay } from './DustOverlay'
import { PatchOverlay } from './PatchOverlay'

/** What lies over the picture while it is mended. */
export const MendOverlay = () => (
  <>
    <PatchOverlay />
    <DustOverlay />
  </>
)
