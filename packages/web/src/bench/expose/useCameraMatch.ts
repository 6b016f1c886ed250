import { matchEmbedded, Superseded, type Picture } from '@dunkelkammer/engine/browser'
import { useEffect, useRef, useState } from 'react'
import { sentence } from '../../api/client'
import type { VersionDesk } from '../../desk/versionDesk'
import type { CameraMatch } from './ExposeDrawer'
import { embeddedPixels } from '../picture/embeddedPixels'
import { withStep } from '../steps/props'
import { useStored } from '../../shell/useStored'

const LABEL = 'Match the camera’s picture'
/** Long edge at which the camera's picture is looked at. */
const LOOKED_AT = 640

/**
 * Sets exposure and grade after the camera's own picture: when asked to, or, where the user wants every frame to
 * begin so, once for a version that nobody has worked on yet.
 * @param url of the embedded picture; without one there is nothing to match
 */
export function useCameraMatch(
  url: string | undefined,
  picture: Picture | undefined,
  desk: VersionDesk,
): CameraMatch | undefined {
  const [always, setAlways] = useStored('begin like the camera', 'no', ['no', 'yes'])
  const [busy, setBusy] = useState(false)
  const [problem, setProblem] = useState<string>()
  const done = useRef<VersionDesk>(undefined)

  const match = async (wanted: Picture, from: string) => {
    setBusy(true)
    setProblem(undefined)
    try {
      const { steps } = await matchEmbedded(wanted, desk.development, await embeddedPixels(from, LOOKED_AT))
      desk.adjust(
        (d) => withStep(withStep(d, 'exposure', steps.exposure), 'baseRendering', steps.baseRendering),
        LABEL,
      )
    } catch (error) {
      if (!(error instanceof Superseded)) setProblem(sentence(error))
    } finally {
      setBusy(false)
    }
  }

  const begin = always === 'yes' && picture && url && desk.untouched
  useEffect(() => {
    if (!begin || done.current === desk) return
    done.current = desk
    void match(picture, url)
  }, [begin, desk, picture, url])

  if (!url) return undefined
  return {
    match: picture && (() => void match(picture, url)),
    busy,
    problem,
    always: always === 'yes',
    setAlways: (on) => setAlways(on ? 'yes' : 'no'),
  }
}
