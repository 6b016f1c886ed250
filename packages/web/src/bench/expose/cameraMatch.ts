import { matchEmbedded, Superseded } from '@dunkelkammer/engine/browser'
import { atom, useAtomValue } from 'jotai'
import { useEffect, useRef } from 'react'
import { sentence } from '../../api/client'
import type { VersionDesk } from '../../desk/versionDesk'
import { embeddedPixels } from '../picture/embeddedPixels'
import { deskAtom, pictureAtom, previewUrlAtom, standAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { storedSwitch } from '../state/stored'
import type { Bench } from '../state/types'
import { withStep } from '../steps/withStep'

const LABEL = 'Match the camera’s picture'
/** Long edge at which the camera's picture is looked at. */
const LOOKED_AT = 640

/** Whether every frame that nobody has worked on begins like the camera's picture. */
export const alwaysAtom = storedSwitch('begin like the camera', ['yes', 'no'], false)
export const comparingAtom = atom(false)
export const problemAtom = atom<string | undefined>(undefined)

/** Sets exposure and grade after the camera's own picture. */
export async function matchCamera({ get, set }: Bench): Promise<void> {
  const [picture, url, desk] = [get(pictureAtom), get(previewUrlAtom), get(deskAtom)]
  if (!picture || !url) return
  set(comparingAtom, true)
  set(problemAtom, undefined)
  try {
    const { steps } = await matchEmbedded(picture, desk.development, await embeddedPixels(url, LOOKED_AT))
    desk.adjust(
      (d) => withStep(withStep(d, 'exposure', steps.exposure), 'baseRendering', steps.baseRendering),
      LABEL,
    )
  } catch (error) {
    if (!(error instanceof Superseded)) set(problemAtom, sentence(error))
  } finally {
    set(comparingAtom, false)
  }
}

/** Whether the version is to begin like the camera's picture: nobody has worked on it. */
const beginsAtom = atom((get) => {
  const wanted = get(alwaysAtom) && get(pictureAtom) !== undefined && get(previewUrlAtom) !== undefined
  return get(standAtom) !== undefined && wanted && get(deskAtom).untouched
})

/** Matches versions as they are opened, where the user wants every frame to begin so; each once. */
export function CameraMatcher() {
  const bench = useBench()
  const begins = useAtomValue(beginsAtom)
  const desk = useAtomValue(deskAtom)
  const done = useRef<VersionDesk>(undefined)
  useEffect(() => {
    if (!begins || done.current === desk) return
    done.current = desk
    void matchCamera(bench)
  }, [bench, begins, desk])
  return null
}
