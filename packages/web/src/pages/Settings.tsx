import { sentence } from '../api/client'
import { useLooks, useNewFrames } from '../api/queries'
import { ErrorNotice } from '../shell/Notice'
import { Page } from '../shell/Page'
import { usePresets } from '../presets/shelf'
import { LibrarySection } from './LibrarySection'
import { NewFrameRules } from './NewFrameRules'
import { SidecarSection } from './SidecarSection'

/** Settings of the library. */
export function SettingsPage() {
  const { data: looks } = useLooks()
  const { data: shelf } = usePresets()
  const { data, error } = useNewFrames()
  return (
    <Page title="Settings">
      <LibrarySection />
      <SidecarSection />
      <h2 className="mb-1 text-base text-bright">New frames</h2>
      <p className="mb-4 max-w-2xl text-quiet">
        The first rule that matches a frame applies; without a match it starts as taken. Frames that are there
        already stay as they are.
      </p>
      {error && <ErrorNotice>{sentence(error)}</ErrorNotice>}
      {data && shelf && (
        <NewFrameRules start={data.rules} lens={data.lens} looks={looks ?? []} presets={shelf.presets} />
      )}
    </Page>
  )
}
