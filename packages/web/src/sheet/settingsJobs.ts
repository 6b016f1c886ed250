import type { Area } from '@dunkelkammer/core'
import type { Frame, GiveSettings, Job, LightMatch } from '@dunkelkammer/contract'
import { api, sentence } from '../api/client'
import { fetchNews, queryClient } from '../api/queries'
import { noteQuiet, noteStarted } from '../bringIn/started'
import type { CopiedSettings } from '../desk/copied'
import type { Picked } from '../presets/PresetPicker'
import { say } from './changes'

/** Starts work on the server whose progress the sheet shows. */
export async function startJob(start: () => Promise<Job>): Promise<void> {
  try {
    noteStarted((await start()).id)
    await queryClient.invalidateQueries({ queryKey: ['jobs'] })
  } catch (error) {
    say(sentence(error))
  }
}

const asked = (frames: readonly Frame[], label: string, what: GiveSettings['give']) => ({
  // asked for again where the answer was lost, it is done once
  id: crypto.randomUUID(),
  ids: frames.map((f) => f.id),
  label,
  give: what,
})

const give = (...wanted: Parameters<typeof asked>) => {
  const request = asked(...wanted)
  return startJob(() => api.giveSettings(request))
}

/** Pastes the copied area into frames. */
export const pasteArea = (frames: readonly Frame[], area: Area) =>
  give(frames, `${area.name || 'Area'} pasted`, { kind: 'portion', portion: { areas: [area] } })

/** Pastes the copied settings into frames. */
export const pasteSettings = (frames: readonly Frame[], { portion, fileName }: CopiedSettings) =>
  give(frames, `Settings of ${fileName} pasted`, { kind: 'portion', portion })

/** Has frames agree with another one in exposure and white. */
export const matchFrames = (frames: readonly Frame[], to: Frame, light: Record<string, LightMatch['to']>) =>
  give(
    frames.filter((f) => light[f.id]),
    `Matched to ${to.fileName}`,
    { kind: 'light', light },
  )

const ofPicked = (frames: readonly Frame[], { preset, strength }: Picked) =>
  asked(frames, strength === 1 ? preset.name : `${preset.name} at ${Math.round(strength * 100)} %`, {
    ...{ kind: 'portion', portion: preset.portion, strength },
    preset: { id: preset.id, name: preset.name },
  })

/** Applies a preset to frames. */
export const applyPicked = (frames: readonly Frame[], picked: Picked) => {
  const request = ofPicked(frames, picked)
  return startJob(() => api.giveSettings(request))
}

/** The same to frames that were clicked, told of beside the preset alone. @returns the job, nothing where it failed */
export async function handPicked(
  shootId: string,
  frames: readonly Frame[],
  picked: Picked,
): Promise<string | undefined> {
  const request = ofPicked(frames, picked)
  noteQuiet(request.id)
  try {
    await api.giveSettings(request)
    await Promise.all([queryClient.invalidateQueries({ queryKey: ['jobs'] }), fetchNews(shootId)])
    return request.id
  } catch (error) {
    say(sentence(error))
    return undefined
  }
}

/** Takes back what a job gave. */
export async function takeJobBack(shootId: string, id: string): Promise<void> {
  try {
    await api.takeJobBack(id)
    await Promise.all([queryClient.invalidateQueries({ queryKey: ['jobs'] }), fetchNews(shootId)])
  } catch (error) {
    say(sentence(error))
  }
}
