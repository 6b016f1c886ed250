import { HandedOverList } from '../deliveries/HandedOverList'
import { JobTable } from '../deliveries/JobTable'
import { SavedDeliveries } from '../deliveries/SavedDeliveries'
import { ColourProfiles } from '../profiles/ColourProfiles'
import { Page } from '../shell/Page'

/** What is being made and what came of it, and the saved deliveries. */
export function DeliveriesPage() {
  return (
    <Page title="Deliveries">
      <JobTable />
      <HandedOverList />
      <SavedDeliveries />
      <ColourProfiles />
    </Page>
  )
}
