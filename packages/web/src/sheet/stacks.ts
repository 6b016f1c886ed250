import type { Frame } from '@dunkelkammer/contract'

/** Frames taken within seconds of one another, the best first; a single frame is a stack of one. */
export interface Stack {
  top: Frame
  frames: readonly Frame[]
}

/** Milliseconds of a frame's taking by the camera's clock; zones do not matter inside a shoot. */
const clock = (f: Frame): number | undefined => {
  const time = f.metadata.taken && Date.parse(`${f.metadata.taken.slice(0, 23).replace(/[+Z].*$/, '')}Z`)
  return time === undefined || time === '' || isNaN(time) ? undefined : time
}

/** The better of two frames: more stars, then kept, then edited, then the earlier. */
const better = (a: Frame, b: Frame): number =>
  b.rating - a.rating ||
  Number(b.mark === 'keep') - Number(a.mark === 'keep') ||
  Number(b.edited) - Number(a.edited) ||
  (clock(a) ?? 0) - (clock(b) ?? 0) ||
  (a.fileName < b.fileName ? -1 : 1)

/**
 * Folds frames of one camera that follow one another within `seconds` into stacks; frames that the user put into a
 * stack, or apart, are as they were put; one whose stack is named after a frame is where that frame is. A stack stands where its first frame stands in the given order.
 */
export function fold(frames: readonly Frame[], seconds: number): Stack[] {
  const stackOf = new Map<string, Frame[]>()
  const byHand = new Map<string, Frame[]>()
  for (const frame of frames) {
    if (frame.stack === undefined) continue
    const members = byHand.get(frame.stack) ?? []
    members.push(frame)
    byHand.set(frame.stack, members)
    stackOf.set(frame.id, members)
  }
  const byTime = frames
    .filter((frame) => frame.stack === undefined)
    .map((frame) => ({ frame, time: clock(frame) }))
    .filter((t): t is { frame: Frame; time: number } => t.time !== undefined)
    .sort((a, b) => a.time - b.time)
  const last = new Map<string, { time: number; frames: Frame[] }>()
  for (const { frame, time } of byTime) {
    const camera = frame.metadata.model ?? ''
    const before = last.get(camera)
    const joins = before && time - before.time <= seconds * 1000
    const frames = joins ? before.frames : []
    frames.push(frame)
    stackOf.set(frame.id, frames)
    last.set(camera, { time, frames })
  }
  // what was made of a frame is in its stack, whichever that is
  for (const frame of frames) {
    const made = byHand.get(frame.id)
    const members = stackOf.get(frame.id) ?? [frame]
    if (!made || made === members) continue
    members.push(...made)
    for (const one of members) stackOf.set(one.id, members)
  }
  const out: Stack[] = []
  const placed = new Set<Frame[]>()
  for (const frame of frames) {
    const members = stackOf.get(frame.id)
    if (!members) out.push({ top: frame, frames: [frame] })
    else if (!placed.has(members)) {
      placed.add(members)
      const sorted = [...members].sort(better)
      out.push({ top: sorted[0], frames: sorted })
    }
  }
  return out
}
