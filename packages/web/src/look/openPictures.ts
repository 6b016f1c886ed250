import type { FramePage } from '@dunkelkammer/contract'
import type { Picture, View } from '@dunkelkammer/engine/browser'
import { api } from '../api/client'
import { theEngine } from '../engine/engine'
import { keeperOf, readOriginal } from '../engine/originals'

/** A frame opened to be looked at: its file in the engine, and its versions. */
export interface Opened {
  page: FramePage
  picture: Picture
  /** Views of the whole picture that are ready, by what they show. */
  ready: Map<string, View>
}

interface Entry {
  opened: Promise<Opened>
  stop: AbortController
  users: number
  /** When it was last let go. */
  left: number
}

/** Frames that stay open though nobody looks at them: the neighbours, and where one came from. */
const SPARE = 3

const entries = new Map<string, Entry>()
let moment = 0

async function open(frameId: string, signal: AbortSignal): Promise<Opened> {
  const [engine, page, bytes] = await Promise.all([
    theEngine(),
    api.frame(frameId),
    readOriginal(frameId, signal),
  ])
  const picture = await engine.open(new Uint8Array(bytes), signal, undefined, keeperOf(frameId))
  return { page, picture, ready: new Map() }
}

function close(frameId: string, entry: Entry): void {
  entries.delete(frameId)
  entry.stop.abort()
  entry.opened.then(
    async ({ picture }) => (await theEngine()).close(picture),
    () => undefined,
  )
}

/** Opens a frame, or finds it open. It stays open until it is let go, and a while beyond. */
export function hold(frameId: string): { opened: Promise<Opened>; release(): void } {
  let entry = entries.get(frameId)
  if (!entry) {
    const stop = new AbortController()
    const made: Entry = { opened: open(frameId, stop.signal), stop, users: 0, left: 0 }
    // a frame that could not be opened is tried again the next time
    made.opened.catch(() => entries.get(frameId) === made && entries.delete(frameId))
    entries.set(frameId, (entry = made))
  }
  const mine = entry
  mine.users++
  let held = true
  return {
    opened: mine.opened,
    release() {
      if (!held) return
      held = false
      mine.users--
      mine.left = ++moment
      const spare = [...entries].filter(([, e]) => e.users === 0).sort((a, b) => b[1].left - a[1].left)
      for (const [id, e] of spare.slice(SPARE)) close(id, e)
    },
  }
}

/** Closes whatever nobody holds: its settings may change elsewhere. */
export function closeSpare(): void {
  for (const [id, e] of [...entries]) if (e.users === 0) close(id, e)
}
