import { makePlan, type Development } from '@dunkelkammer/core'
import type { Picture } from '@dunkelkammer/engine/browser'
import { useEffect, useState } from 'react'

/** How much of each hue the picture holds before the hue nodes; looked up once what changes it rests. */
export function useHues(picture: Picture | undefined, development: Development, wanted: boolean) {
  const [hues, setHues] = useState<Float32Array>()
  // the nodes themselves and what follows them do not change it
  const plan = makePlan(development, 'srgb')
  const cut = plan.render.findIndex((p) => p.id === 'hueNodes' || p.id === 'edgeBurn')
  const key = wanted ? plan.developKey + JSON.stringify(plan.render.slice(0, cut < 0 ? undefined : cut)) : ''
  useEffect(() => {
    if (!picture || !key) return
    let gone = false
    const timer = setTimeout(() => {
      picture.hues(development, 'hueNodes').then(
        (found) => !gone && setHues(found),
        () => undefined,
      )
    }, 350)
    return () => {
      gone = true
      clearTimeout(timer)
    }
  }, [picture, key])
  return hues
}
