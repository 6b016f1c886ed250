import type { FramePage, Version } from '@dunkelkammer/contract'
import type { LogPlace } from '@dunkelkammer/core'
import { useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { api, sentence } from '../../api/client'
import { queryClient } from '../../api/queries'
import type { VersionDesk } from '../../desk/versionDesk'
import type { VersionActions } from '../state/types'
import { useEvent } from '../state/useEvent'

/**
 * @param go to another version of the frame
 * @param sideBySide address of the page that shows versions side by side
 */
export function useVersions(
  page: FramePage,
  version: Version,
  desk: VersionDesk,
  go: (id: string) => void,
  sideBySide: (versions: readonly string[]) => string,
): { actions: VersionActions; problem: { said?: string; forget(): void } } {
  const [problem, setProblem] = useState<string>()
  const navigate = useNavigate()
  const { frame, versions } = page
  const reload = () => queryClient.refetchQueries({ queryKey: ['frame', frame.id] })
  const attempt = async (doing: () => Promise<unknown>) => {
    try {
      await doing()
      setProblem(undefined)
    } catch (error) {
      setProblem(sentence(error))
    }
  }
  const changed = (doing: () => Promise<unknown>) => attempt(async () => (await doing(), reload()))

  const choose = useEvent((id: string) =>
    attempt(async () => {
      // what is known of the other versions is from when the bench was laid out
      await desk.settle()
      await reload()
      go(id)
    }),
  )
  const add = useEvent((from: 'untouched' | 'this', place?: LogPlace) =>
    attempt(async () => {
      await desk.settle()
      const made = await api.addVersion(frame.id, from === 'this' ? { from: version.id, entry: place } : {})
      await reload()
      go(made.id)
    }),
  )
  const compareAnother = useEvent(() =>
    attempt(async () => {
      await desk.settle()
      const made = await api.addVersion(frame.id, { from: version.id })
      await queryClient.invalidateQueries({ queryKey: ['frame', frame.id] })
      await navigate(sideBySide([version.id, made.id]))
    }),
  )
  const rename = useEvent((id: string, name: string) => changed(() => api.changeVersion(id, { name })))
  const move = useEvent((id: string, by: number) => {
    const ids = versions.map((v) => v.id)
    const from = ids.indexOf(id)
    ids.splice(from, 1)
    ids.splice(from + by, 0, id)
    return changed(() => api.orderVersions(frame.id, ids))
  })
  const show = useEvent((id: string) => changed(() => api.showVersion(id)))
  const remove = useEvent((id: string) =>
    attempt(async () => {
      if (id === version.id) await desk.settle()
      await api.removeVersion(id)
      if (id === version.id) go(versions.find((v) => v.id !== id)!.id)
      await reload()
    }),
  )
  const takeBack = useEvent((id: string) => changed(() => api.takeVersionBack(id)))
  const actions = useMemo(
    (): VersionActions => ({
      choose: (id) => void choose(id),
      add: (from, place) => void add(from, place),
      compareAnother: () => void compareAnother(),
      rename: (id, name) => void rename(id, name),
      move: (id, by) => void move(id, by),
      show: (id) => void show(id),
      remove: (id) => void remove(id),
      takeBack: (id) => void takeBack(id),
    }),
    [choose, add, compareAnother, rename, move, show, remove, takeBack],
  )
  const told = useMemo(() => ({ said: problem, forget: () => setProblem(undefined) }), [problem])
  return { actions, problem: told }
}
