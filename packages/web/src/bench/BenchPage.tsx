import { Link, useParams } from 'react-router'
import { sentence } from '../api/client'
import { useFrame, useShoot } from '../api/queries'
import { ErrorNotice, Progress } from '../shell/Notice'
import { Bench } from './Bench'

/** Fetches what the bench needs, then shows it. */
export function BenchPage() {
  const { shootId = '', frameId = '' } = useParams()
  const frame = useFrame(frameId)
  const shoot = useShoot(shootId)
  const error = frame.error ?? shoot.error
  if (error)
    return (
      <main className="mx-auto max-w-xl p-10">
        <h1 className="sr-only">Bench</h1>
        <ErrorNotice
          action={
            <span className="flex gap-2">
              <button className="button" onClick={() => void Promise.all([frame.refetch(), shoot.refetch()])}>
                Try again
              </button>
              <Link className="button" to={`/shoots/${shootId}`}>
                Back to the contact sheet
              </Link>
            </span>
          }
        >
          {sentence(error)}
        </ErrorNotice>
      </main>
    )
  if (!frame.data || !shoot.data || frame.data.frame.id !== frameId)
    return (
      <main className="p-10">
        <h1 className="sr-only">Bench</h1>
        <Progress label="Laying out the bench" />
      </main>
    )
  return <Bench key={frameId} page={frame.data} shoot={shoot.data} />
}
