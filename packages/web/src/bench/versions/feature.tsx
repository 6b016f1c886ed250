import { atom, useAtomValue } from 'jotai'
import { ErrorNotice } from '../../shell/Notice'
import { deskAtom, pageAtom, routesAtom, versionActionsAtom, versionAtom } from '../state/atoms'
import { useBench, usePublished } from '../state/bench'
import type { Feature } from '../state/types'
import { sideBySide } from './sideBySide'
import { useVersions } from './useVersions'

const problemAtom = atom<{ said?: string; forget(): void }>({ forget: () => undefined })

/** Lets every part of the bench work with the versions of its frame. */
function VersionKeeper() {
  const { get } = useBench()
  const page = useAtomValue(pageAtom)
  const { actions, problem } = useVersions(
    page,
    useAtomValue(versionAtom),
    useAtomValue(deskAtom),
    (id) => get(routesAtom).link({ version: id }),
    (ids) => sideBySide(get, ids),
  )
  usePublished(versionActionsAtom, actions)
  usePublished(problemAtom, problem)
  return null
}

function VersionProblem() {
  const { said, forget } = useAtomValue(problemAtom)
  if (!said) return null
  return (
    <div className="absolute top-20 right-40 left-[340px] z-20">
      <ErrorNotice
        action={
          <button className="button" onClick={forget}>
            Close
          </button>
        }
      >
        {said}
      </ErrorNotice>
    </div>
  )
}

/** Other developments of the same frame. */
export const versions: Feature = { Works: VersionKeeper, Panel: VersionProblem }
