import { Link } from 'react-router'
import { Page } from '../shell/Page'

export function NotFoundPage() {
  return (
    <Page title="There is no such page">
      <p className="text-quiet">
        It may have been moved.{' '}
        <Link to="/" className="text-bright underline">
          Go to the shoots
        </Link>
      </p>
    </Page>
  )
}

/** What stands in for a page that has failed; the settings are saved by then, or kept in this browser. */
export function BrokenPage() {
  return (
    <Page title="This page has stopped working">
      <p className="mb-4 text-quiet">What you did is saved. Load the page again to go on.</p>
      <button className="button" onClick={() => location.reload()}>
        Reload
      </button>
    </Page>
  )
}
