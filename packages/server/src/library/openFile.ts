import { stat } from 'node:fs/promises'
import { basename, dirname } from 'node:path'
import { HttpProblem } from '../problem'
import type { Frames } from './frames'
import type { Intake } from './intake'
import { discard, lookAt } from './receive'
import { withinRoots } from './roots'
import type { Shoots } from './shoots'
import { sidecarOf } from './sidecars/files'

interface OpenServices {
  frames: Frames
  intake: Intake
  shoots: Shoots
  roots: readonly string[]
}

/** Opens files that are named by their path; one after the other, so that two windows make one shoot. */
export class FileOpener {
  private last: Promise<unknown> = Promise.resolve()

  constructor(private readonly services: OpenServices) {}

  /**
   * The frame of a file on this machine. Where no shoot holds it, it goes into the shoot that is called as its folder,
   * and stays where it is.
   * @throws HttpProblem where it may not be read or is not there, RawError where it cannot be developed
   */
  open(path: string): Promise<{ shootId: string; frameId: string }> {
    const opened = this.last.then(
      () => this.find(path),
      () => this.find(path),
    )
    this.last = opened.catch(() => undefined)
    return opened
  }

  private async find(asked: string): Promise<{ shootId: string; frameId: string }> {
    const { frames, intake, shoots, roots } = this.services
    const path = await withinRoots(asked, roots, 'file')
    const stats = await stat(path)
    if (!stats.isFile())
      throw new HttpProblem(400, 'invalid', 'This is a folder. Give the path of one picture.')
    const received = await lookAt(path)
    const known = frames.withOriginal(received.hash)
    if (known) {
      await discard(received)
      return { shootId: known.shootId, frameId: known.id }
    }
    const name = basename(dirname(path)) || 'Pictures'
    const there = shoots.list().find((s) => s.name === name)
    const shoot = there ?? shoots.create(name)
    // one that cannot be read is no reason not to open the picture
    const sidecar = await sidecarOf(path).catch(() => undefined)
    const arrival = { fileName: basename(path), fileDate: stats.mtime.toISOString(), text: {}, sidecar }
    try {
      const { frame } = await intake.add(shoot.id, arrival, received)
      return { shootId: frame.shootId, frameId: frame.id }
    } catch (error) {
      // made for this file alone
      if (!there) await shoots.remove(shoot.id)
      throw error
    }
  }
}
