import type { Frame, FrameChange, ShootPage } from '@dunkelkammer/contract'
import { useSyncExternalStore } from 'react'
import { api, sentence } from '../api/client'
import { queryClient, unsettled } from '../api/queries'

/** What of a frame the user changes on the sheet. */
export type Setting = Omit<FrameChange, 'ids'>

/** Something that was done and can be taken back. */
interface Done {
  label: string
  shootId: string
  changes: FrameChange[]
  /** What brings everything back. */
  back: FrameChange[]
}

interface State {
  done: readonly Done[]
  /** What was taken back and not worked past, the last of it at the end. */
  undone: readonly Done[]
  /** The last thing that happened, for the line at the bottom. */
  said: string
  problem: string
}

const MOST = 200
let state: State = { done: [], undone: [], said: '', problem: '' }
const listeners = new Set<() => void>()
function set(next: Partial<State>): void {
  state = { ...state, ...next }
  listeners.forEach((l) => l())
}

/** What was done and said last; the same for all pages of this window. */
export const useChanges = (): State =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => state,
  )

export const say = (said: string): void => set({ said, problem: '' })

const applied = (f: Frame, { rating, mark, text, stack, shootId }: Setting): Frame => ({
  ...f,
  shootId: shootId ?? f.shootId,
  stack: stack === undefined ? f.stack : (stack ?? undefined),
  rating: rating ?? f.rating,
  mark: mark ?? f.mark,
  text: text ? { ...f.text, ...text } : f.text,
})

/** Puts changes into the page's list without waiting for the server. */
function show(shootId: string, changes: readonly FrameChange[]): void {
  queryClient.setQueryData<ShootPage>(['shoot', shootId], (page) => {
    if (!page) return page
    const by = new Map<string, Setting[]>()
    for (const { ids, ...setting } of changes)
      for (const id of ids) by.set(id, [...(by.get(id) ?? []), setting])
    const frames = page.frames.map((f) => by.get(f.id)?.reduce(applied, f) ?? f)
    // what was moved to another shoot is no longer here
    return { ...page, frames: frames.filter((f) => f.shootId === shootId) }
  })
}

/** Changes go to the server one after the other, so that a later one is not overtaken by an earlier. */
let last: Promise<unknown> = Promise.resolve()

async function send(changes: readonly FrameChange[]): Promise<void> {
  const token = {}
  unsettled.add(token)
  const mine = last.then(() => api.changeFrames(changes))
  last = mine.catch(() => undefined)
  try {
    await mine
  } finally {
    unsettled.delete(token)
  }
}

/** The same setting said once for all frames that it is for. */
function grouped(each: readonly (readonly [Frame, Setting])[]): FrameChange[] {
  const groups = new Map<string, FrameChange>()
  for (const [frame, setting] of each) {
    const key = JSON.stringify(setting)
    const group = groups.get(key)
    if (group) group.ids.push(frame.id)
    else groups.set(key, { ids: [frame.id], ...setting })
  }
  return [...groups.values()]
}

/** What brings a frame back to how it is, for those parts that a setting changes. */
const wayBack = (f: Frame, setting: Setting): Setting => ({
  ...(setting.rating !== undefined && { rating: f.rating }),
  ...(setting.mark !== undefined && { mark: f.mark }),
  ...(setting.stack !== undefined && { stack: f.stack ?? null }),
  ...(setting.shootId !== undefined && { shootId: f.shootId }),
  ...(setting.text && {
    text: Object.fromEntries(Object.keys(setting.text).map((k) => [k, f.text[k as keyof Frame['text']]])),
  }),
})

/**
 * Changes frames of a shoot: at once on the page, then on the server; where that fails, back again with the reason.
 * @param setting the same for all, or made for each
 */
export function changeFrames(
  shootId: string,
  frames: readonly Frame[],
  setting: Setting | ((f: Frame) => Setting),
  label: string,
): void {
  if (frames.length === 0) return
  const each = frames.map((f) => [f, typeof setting === 'function' ? setting(f) : setting] as const)
  const changes = grouped(each)
  const back = grouped(each.map(([f, s]) => [f, wayBack(f, s)]))
  const done: Done = { label, shootId, changes, back }
  show(shootId, changes)
  const undone = state.undone.filter((d) => d.shootId !== shootId)
  set({ done: [...state.done, done].slice(-MOST), undone, said: label, problem: '' })
  send(changes).catch((error: unknown) => {
    show(shootId, back)
    set({ done: state.done.filter((d) => d !== done), said: '', problem: sentence(error) })
  })
}

/** Shows changes and sends them; where that fails, what the server has is shown. @returns ids of their frames */
function put(shootId: string, changes: readonly FrameChange[]): string[] {
  show(shootId, changes)
  send(changes).catch((error: unknown) => {
    set({ problem: sentence(error) })
    void queryClient.invalidateQueries({ queryKey: ['shoot', shootId] })
  })
  return changes.flatMap(({ ids }) => ids)
}

const lastOf = (list: readonly Done[], shootId: string) => list.findLast((d) => d.shootId === shootId)

/** Takes back the last thing done in a shoot. @returns ids of the frames that it had changed */
export function takeBack(shootId: string): string[] {
  const done = lastOf(state.done, shootId)
  if (!done) return []
  set({
    done: state.done.filter((d) => d !== done),
    undone: [...state.undone, done],
    said: `Undone: ${done.label}`,
    problem: '',
  })
  return put(shootId, done.back)
}

/** Does again what was taken back last in a shoot. @returns ids of the frames that it changes */
export function doAgain(shootId: string): string[] {
  const undone = lastOf(state.undone, shootId)
  if (!undone) return []
  set({
    done: [...state.done, undone],
    undone: state.undone.filter((d) => d !== undone),
    said: undone.label,
    problem: '',
  })
  return put(shootId, undone.changes)
}

/** Empties a shoot's bin for good; what was done before can then no longer be taken back for those frames. */
export async function emptyBin(shootId: string): Promise<void> {
  try {
    await last
    const { count } = await api.emptyBin(shootId)
    const page = queryClient.getQueryData<ShootPage>(['shoot', shootId])
    if (page)
      queryClient.setQueryData<ShootPage>(['shoot', shootId], {
        ...page,
        frames: page.frames.filter((f) => f.mark !== 'drop'),
      })
    void queryClient.invalidateQueries({ queryKey: ['shoots'] })
    set({
      done: state.done.filter((d) => d.shootId !== shootId),
      undone: state.undone.filter((d) => d.shootId !== shootId),
      said: `${count} ${count === 1 ? 'frame' : 'frames'} removed for good`,
      problem: '',
    })
  } catch (error) {
    set({ problem: sentence(error) })
  }
}
