import { MAX_KEPT, type AtImport } from '@dunkelkammer/contract'
import { hasKnownEnding, sidecarAmong } from '@dunkelkammer/engine/browser'
import { useSyncExternalStore } from 'react'
import { api, sentence, ServerProblem } from '../api/client'
import { fetchNews, queryClient } from '../api/queries'

/** Files of this computer on their way into a shoot. They go on coming in while the user is on other pages. */
export interface BringingIn {
  shootId: string
  shootName: string
  all: number
  done: number
  added: number
  known: number
  /** Originals that the library had lost and has again. */
  restored: number
  bytes: number
  bytesDone: number
  problems: string[]
  began: number
  /** Milliseconds that it has taken, once it has ended. */
  took?: number
  cancelled: boolean
}

const TOO_LARGE = `This file is larger than ${MAX_KEPT / 2 ** 30} GB.`

/** Files on their way at once: one travels while the other is being looked at. */
const AT_ONCE = 2

let state: BringingIn | undefined
let stop: AbortController | undefined
const listeners = new Set<() => void>()

function set(next: BringingIn | undefined): void {
  state = next
  listeners.forEach((l) => l())
}

/** What is coming in, or came in last. */
export const bringingIn = (): BringingIn | undefined => state

export const useBringingIn = (): BringingIn | undefined =>
  useSyncExternalStore((listener) => {
    listeners.add(listener)
    return () => listeners.delete(listener)
  }, bringingIn)

export const isBringingIn = (): boolean => state !== undefined && state.took === undefined

export const putAway = (): void => {
  if (!isBringingIn()) set(undefined)
}

export function cancelBringingIn(): void {
  stop?.abort()
}

addEventListener('beforeunload', (event) => {
  if (isBringingIn()) event.preventDefault()
})

/** Pictures among files, and their sidecars; what is neither is left where it is. */
export function sorted(files: readonly File[]): { pictures: File[]; sidecars: Map<File, File> } {
  const isSidecar = (file: File) => /\.xmp$/i.test(file.name)
  const pictures = files.filter(
    (file) => !isSidecar(file) && (files.length === 1 || hasKnownEnding(file.name)),
  )
  // files that may belong together, so that not each is compared with all
  const groups = new Map<string, File[]>()
  for (const file of files) groups.set(groupOf(file), [...(groups.get(groupOf(file)) ?? []), file])
  const sidecars = new Map<File, File>()
  for (const picture of pictures) {
    const beside = groups.get(groupOf(picture))!
    const name = sidecarAmong(
      picture.name,
      beside.map((file) => file.name),
    )
    const sidecar = beside.find((file) => file.name === name)
    if (sidecar) sidecars.set(picture, sidecar)
  }
  return { pictures, sidecars }
}

/** Folder and first word of a name. */
const groupOf = ({ name, webkitRelativePath = '' }: File) =>
  webkitRelativePath.slice(0, Math.max(webkitRelativePath.length - name.length, 0)) +
  name.split('.')[0].toLowerCase()

/** Begins to bring files in. @returns a sentence where there is nothing to bring in */
export function bringIn(
  shoot: { id: string; name: string },
  files: readonly File[],
  text?: AtImport,
): string | undefined {
  if (isBringingIn()) return 'Files are coming in already. Wait for them or cancel them first.'
  const { pictures, sidecars } = sorted(files)
  if (pictures.length === 0) return 'There are no pictures of a kind that is read among these files.'
  const bytes = pictures.reduce((n, f) => n + f.size, 0)
  set({
    ...{ shootId: shoot.id, shootName: shoot.name, all: pictures.length, done: 0, added: 0 },
    ...{ known: 0, restored: 0 },
    ...{ bytes, bytesDone: 0, problems: [], began: Date.now(), cancelled: false },
  })
  void run(shoot.id, pictures, sidecars, text)
  return undefined
}

async function run(
  shootId: string,
  pictures: readonly File[],
  sidecars: ReadonlyMap<File, File>,
  text?: AtImport,
): Promise<void> {
  stop = new AbortController()
  const { signal } = stop
  const update = (part: Partial<BringingIn>) => state && set({ ...state, ...part })
  const problem = (line: string) => update({ problems: [...state!.problems, line] })
  let next = 0
  const worker = async () => {
    for (let file = pictures[next++]; file && !signal.aborted; file = pictures[next++]) {
      try {
        if (file.size > MAX_KEPT) throw new Error(TOO_LARGE)
        const { known, restored, frame } = await api.upload(shootId, file, signal)
        update(known ? { known: state!.known + 1 } : { added: state!.added + 1 })
        if (restored) update({ restored: state!.restored + 1 })
        const sidecar = sidecars.get(file)
        if (sidecar && !known)
          await api
            .sendSidecar(frame.id, sidecar)
            .then((problems) => problems.forEach((p) => problem(`${sidecar.name}: ${p}`)))
            .catch((e: unknown) => problem(`${sidecar.name}: ${sentence(e)}`))
      } catch (error) {
        if (signal.aborted) return
        problem(`${file.name}: ${await reason(file, error)}`)
      }
      update({ done: state!.done + 1, bytesDone: state!.bytesDone + file.size })
    }
  }
  try {
    if (text) await api.setAtImport(shootId, text)
    await Promise.all(Array.from({ length: AT_ONCE }, worker))
  } catch (error) {
    problem(sentence(error))
  }
  update({ took: Date.now() - state!.began, cancelled: signal.aborted })
  await fetchNews(shootId)
  void queryClient.invalidateQueries({ queryKey: ['shoots'] })
}

/** Tells a file that can no longer be read from a server that does not answer: to the network they look the same. */
async function reason(file: File, error: unknown): Promise<string> {
  if (error instanceof ServerProblem && error.code === 'away')
    try {
      await file.slice(0, 1).arrayBuffer()
    } catch {
      return 'It can no longer be read; was the card taken out?'
    }
  return sentence(error)
}

/** Files of what was dropped, those inside of folders included. */
export async function droppedFiles(data: DataTransfer): Promise<File[]> {
  const entries = [...data.items].map((item) => item.webkitGetAsEntry())
  const flat = [...data.files]
  const out: File[] = []
  const take = async (entry: FileSystemEntry): Promise<void> => {
    if (entry.isFile) {
      out.push(await new Promise<File>((ok, no) => (entry as FileSystemFileEntry).file(ok, no)))
      return
    }
    const reader = (entry as FileSystemDirectoryEntry).createReader()
    for (;;) {
      // a reader gives its entries in portions
      const some = await new Promise<FileSystemEntry[]>((ok, no) => reader.readEntries(ok, no))
      if (some.length === 0) return
      for (const e of some) await take(e)
    }
  }
  if (entries.every((e) => e === null)) return flat
  for (const entry of entries) if (entry) await take(entry)
  return out
}
