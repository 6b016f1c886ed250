import type { LightMatch } from '@dunkelkammer/contract'
import { lightOf, matchLight, standingLight, type PictureLight } from '@dunkelkammer/engine'
import type { Versions } from '../library/versions'
import { notFound } from '../problem'
import { opening, type SettingsServices } from './startSettings'

/** Lights of pictures that are remembered: the one that others are matched to, and those before. */
const REMEMBERED = 4

/** Says by what frames come to agree with another one. */
export class LightMatcher {
  private readonly known = new Map<string, Promise<PictureLight>>()

  constructor(
    private readonly services: Pick<SettingsServices, 'frames' | 'finds' | 'engine'> & { versions: Versions },
  ) {}

  /** @throws HttpProblem where a frame is not there, RawError where it cannot be developed */
  async match(frameId: string, toId: string): Promise<LightMatch> {
    const to = await this.remembered(toId)
    const own = await this.read(frameId)
    const { by, ev, kelvin, tint } = matchLight(to, own)
    return { by, to: { ev, kelvin, tint }, from: standingLight(own) }
  }

  private remembered(frameId: string): Promise<PictureLight> {
    const key = `${frameId} ${this.shown(frameId).revision}`
    const known = this.known.get(key)
    if (known) return known
    const light = this.read(frameId)
    this.known.set(key, light)
    light.catch(() => this.known.delete(key))
    for (const old of [...this.known.keys()].slice(0, -REMEMBERED)) this.known.delete(old)
    return light
  }

  private async read(frameId: string): Promise<PictureLight> {
    const { development } = this.shown(frameId)
    const working = await this.services.engine()
    const picture = await opening(this.services, frameId)(working, new AbortController().signal)
    try {
      return await lightOf(picture, development)
    } finally {
      working.close(picture)
    }
  }

  /** The version that stands for a frame. */
  private shown(frameId: string) {
    const { frames, versions } = this.services
    const [row] = frames.rows([frameId])
    const id = row && versions.shownOf([row]).get(frameId)
    if (id === undefined) throw notFound('frame')
    return versions.get(id)
  }
}
