import type { Development, Square } from '@dunkelkammer/core'
import type { Picture } from '@dunkelkammer/engine/browser'
import { useEffect, useMemo, useRef, useState } from 'react'
import { sentence } from '../../api/client'
import { withStep } from '../steps/withStep'

/** A development, and what of the picture it shows. */
export interface Squared {
  development: Development
  square: Square
}

/**
 * What a development shows of the picture. Where its lens has still to be asked for, that of the development before
 * goes on, so that picture and frame always belong together.
 * @param plain what is shown before anything is known
 */
export function useSquared(
  picture: Picture | undefined,
  development: Development,
  plain: Square,
): Squared & { problem?: string } {
  const last = useRef<{ picture?: Picture; squared: Squared }>(undefined)
  const [arrived, setArrived] = useState<Squared & { picture: Picture }>()
  const [problem, setProblem] = useState<string>()
  const known = useMemo(() => picture?.squareNow(development), [picture, development])
  const square =
    known ??
    (arrived?.picture === picture && arrived?.development === development ? arrived.square : undefined)
  if (square) last.current = { picture, squared: { development, square } }
  useEffect(() => {
    if (!picture || square) return setProblem(undefined)
    let here = true
    picture.square(development).then(
      (found) => here && setArrived({ picture, development, square: found }),
      (error: unknown) => here && setProblem(sentence(error)),
    )
    return () => {
      here = false
    }
  }, [picture, square, development])
  if (square) return { development, square, problem }
  if (problem && picture) {
    // without the profile that cannot be had, so that there is something to work with
    const without = withStep(development, 'lens', { choice: 'off' })
    const bare = picture.squareNow(without)
    if (bare) return { development: without, square: bare, problem }
  }
  if (last.current && last.current.picture === picture) return { ...last.current.squared, problem }
  return { development, square: plain, problem }
}
