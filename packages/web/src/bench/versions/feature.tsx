import { useAtom } from 'jotai'
import { ErrorNotice } from '../../shell/Notice'
import type { Feature } from '../state/types'
import { versionProblemAtom } from './actions'

function VersionProblem() {
  const [problem, say] = useAtom(versionProblemAtom)
  if (!problem) return null
  return (
    <div className="absolute top-20 right-40 left-[340px] z-20">
      <ErrorNotice
        action={
          <button className="button" onClick={() => say(undefined)}>
            Close
          </button>
        }
      >
        {problem}
      </ErrorNotice>
    </div>
  )
}

/** Other developments of the same frame. */
export const versions: Feature = { Panel: VersionProblem }
