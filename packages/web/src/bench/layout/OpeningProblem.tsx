import { useAtomValue } from 'jotai'
import { ErrorNotice } from '../../shell/Notice'
import { attemptAtom, frameAtom, openingAtom, squaredAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { viewsAtom } from '../state/looking'
import { ChooseOriginal } from './ChooseOriginal'

/** Why the picture cannot be shown, and what can be done about it. */
export function OpeningProblem() {
  const { set } = useBench()
  const opening = useAtomValue(openingAtom)
  const frame = useAtomValue(frameAtom)
  const views = useAtomValue(viewsAtom)
  const squared = useAtomValue(squaredAtom)
  const problem = opening.problem ?? views.problem ?? squared.problem
  if (!problem) return null
  const again = () => set(attemptAtom, (n) => n + 1)
  return (
    <div className="absolute top-20 right-40 left-[340px] z-20">
      <ErrorNotice
        action={
          <>
            <button className="button mr-2" onClick={again}>
              Try again
            </button>
            {opening.lost && <ChooseOriginal frameId={frame.id} onRestored={again} />}
          </>
        }
      >
        {problem}
      </ErrorNotice>
    </div>
  )
}
