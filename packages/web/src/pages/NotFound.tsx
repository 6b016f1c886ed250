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
