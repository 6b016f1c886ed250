import {
  AT_WORK,
  filled,
  FILES,
  ProblemSchema,
  ROUTES,
  SidecarTakenSchema,
  type AtImport,
  type FrameChange,
  type GiveSettings,
  type NamesIn,
  type NewFiles,
  type NewFrames,
  type NewVersion,
  type WantedEstimate,
  type PresetChange,
  type ProofQuery,
  type Route,
  type VersionView,
} from '@dunkelkammer/contract'
import type { DeliveryInput, LensProfile, LogPlace, Operation, Preset, Recipe } from '@dunkelkammer/core'
import type { LensWish } from '@dunkelkammer/engine/browser'
import { z } from 'zod'

/** An answer of the server that is not the one asked for. */
export class ServerProblem extends Error {
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message)
    this.name = 'ServerProblem'
  }
}

const AWAY = 'The server does not answer. What you did is kept here and will be saved when it is back.'

async function ask(path: string, init?: RequestInit): Promise<Response> {
  let response: Response
  try {
    response = await fetch(`/api${path}`, init)
  } catch (error) {
    if ((error as Error).name === 'AbortError') throw error
    throw new ServerProblem('away', AWAY)
  }
  if (response.ok) return response
  const problem = ProblemSchema.safeParse(await response.json().catch(() => undefined))
  if (problem.success) throw new ServerProblem(problem.data.code, problem.data.message)
  throw new ServerProblem('failed', `The server answered with an error (${response.status}).`)
}

type Wish<R> =
  R extends Route<infer P, z.ZodType, infer B, infer Q>
    ? { [N in NamesIn<P>]: string } & (B extends z.ZodUndefined ? unknown : { body: z.input<B> }) &
        (Q extends z.ZodUndefined ? unknown : { query: z.input<Q> })
    : never

/** Asks the server for a route of the contract. */
async function call<P extends string, A extends z.ZodType, B extends z.ZodType, Q extends z.ZodType>(
  route: Route<P, A, B, Q>,
  wish: Wish<Route<P, A, B, Q>>,
  init: RequestInit = {},
): Promise<z.output<A>> {
  const { body, query, ...params } = wish as { body?: unknown; query?: Record<string, unknown> }
  const asked = new URLSearchParams()
  for (const [name, value] of Object.entries(query ?? {}))
    if (value !== undefined) asked.set(name, String(value))
  const path = filled(route.path, params as Record<string, string>) + (asked.size > 0 ? `?${asked}` : '')
  const sent =
    body === undefined ? {} : { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }
  return route.answer.parse(await (await ask(path, { method: route.method, ...sent, ...init })).json())
}

const withType = (type: string, body: BodyInit): RequestInit => ({ headers: { 'Content-Type': type }, body })

/** Operations on a log, and where it stood before them. */
interface Batch {
  base: LogPlace
  operations: readonly Operation[]
}

/** What the page asks of the server, checked by the schemas that the server uses too. */
export const api = {
  shoots: () => call(ROUTES.shoots, {}),
  createShoot: (name: string, atImport: AtImport = {}) =>
    call(ROUTES.createShoot, { body: { name, atImport } }),
  shoot: (id: string) => call(ROUTES.shoot, { id }),
  renameShoot: (id: string, name: string) => call(ROUTES.renameShoot, { id, body: { name } }),
  removeShoot: (id: string) => call(ROUTES.removeShoot, { id }),
  setAtImport: (id: string, atImport: AtImport) => call(ROUTES.setAtImport, { id, body: atImport }),
  news: (id: string, since: number, signal?: AbortSignal) =>
    call(ROUTES.news, { id, query: { since } }, { signal }),
  changeFrames: (changes: readonly FrameChange[]) =>
    call(ROUTES.changeFrames, { body: { changes: [...changes] } }),
  emptyBin: (id: string) => call(ROUTES.emptyBin, { id }),
  giveSettings: (wanted: GiveSettings) => call(ROUTES.giveSettings, { body: wanted }),
  matchLight: (id: string, to: string, signal?: AbortSignal) =>
    call(ROUTES.matchLight, { id, body: { to } }, { signal }),
  mendDust: (ids: readonly string[]) => call(ROUTES.mendDust, { body: { ids: [...ids] } }),
  takeJobBack: (id: string) => call(ROUTES.takeJobBack, { id }),
  writeSidecars: (ids: readonly string[]) => call(ROUTES.writeSidecars, { body: { ids: [...ids] } }),
  zippedSidecars: async (ids: readonly string[]) => {
    const init = withType('application/json', JSON.stringify({ ids }))
    return (await ask(FILES.zippedSidecars, { method: 'POST', ...init })).blob()
  },
  /** @returns what could not be read, in sentences */
  sendSidecar: async (id: string, xmp: Blob): Promise<string[]> => {
    const init = { method: 'PUT', body: xmp, headers: { 'Content-Type': 'text/xml' } }
    const answer = await ask(filled(FILES.sidecar, { id }), init)
    return SidecarTakenSchema.parse(await answer.json()).problems
  },
  frame: (id: string) => call(ROUTES.frame, { id }),
  /** Bytes of a frame's file, and what kind of file it is. */
  original: async (id: string, signal?: AbortSignal) => {
    const response = await ask(filled(FILES.original, { id }), { signal })
    return { bytes: await response.arrayBuffer(), format: response.headers.get('X-Format') ?? 'dng' }
  },
  restoreOriginal: (id: string, file: File) =>
    ask(filled(FILES.original, { id }), { method: 'PUT', body: file }),
  keepCopies: (ids: readonly string[]) => call(ROUTES.keepCopies, { body: { ids: [...ids] } }),
  library: () => call(ROUTES.library, {}),
  keepSidecars: (always: boolean) => call(ROUTES.keepSidecars, { body: { always } }),
  rebuild: (path: string, keep: 'copy' | 'in place') => call(ROUTES.rebuild, { body: { path, keep } }),
  bringInUnknown: () => call(ROUTES.bringInUnknown, {}),
  setUnknownAside: () => call(ROUTES.setUnknownAside, {}),
  checkOriginals: () => call(ROUTES.checkOriginals, {}),
  previewUrl: (id: string) => `/api${filled(FILES.preview, { id })}`,
  thumbUrl: ({ id, thumb }: { id: string; thumb: string }) =>
    `/api${filled(FILES.thumbnail, { id })}?of=${thumb}`,
  addVersion: (id: string, wanted: NewVersion) => call(ROUTES.addVersion, { id, body: wanted }),
  version: (id: string) => call(ROUTES.version, { id }),
  appendToLog: (id: string, { base, operations }: Batch, keepalive = false) =>
    call(ROUTES.appendToLog, { id, body: { base, operations: [...operations] } }, { keepalive }),
  log: (id: string, before?: number) => call(ROUTES.log, { id, query: { before } }),
  /** The settings at a place of a log. */
  logAt: (id: string, place: LogPlace) => call(ROUTES.logAt, { id, entry: place ?? 'begun' }),
  changeVersion: (id: string, change: { name: string }) => call(ROUTES.changeVersion, { id, body: change }),
  setVersionView: (id: string, view: VersionView) => call(ROUTES.setVersionView, { id, body: view }),
  removeVersion: (id: string) => call(ROUTES.removeVersion, { id }),
  takeVersionBack: (id: string) => call(ROUTES.takeVersionBack, { id }),
  showVersion: (id: string) => call(ROUTES.showVersion, { id }),
  orderVersions: (id: string, ids: readonly string[]) =>
    call(ROUTES.orderVersions, { id, body: { ids: [...ids] } }),
  upload: (id: string, file: File, signal?: AbortSignal) =>
    call(
      ROUTES.upload,
      { id, query: { name: file.name, date: file.lastModified } },
      { ...withType('application/octet-stream', file), signal },
    ),
  openFile: (path: string) => call(ROUTES.openFile, { body: { path } }),
  importFolder: (id: string, path: string, keep: 'copy' | 'in place', text: AtImport) =>
    call(ROUTES.importFolder, { id, body: { path, keep, text } }),
  programs: () => call(ROUTES.programs, {}),
  handedOver: () => call(ROUTES.handedOver, {}),
  giveAgain: (id: string) => call(ROUTES.giveAgain, { id }),
  waitNoLonger: (id: string) => call(ROUTES.waitNoLonger, { id }),
  profiles: () => call(ROUTES.profiles, {}),
  addProfile: (file: File) => call(ROUTES.addProfile, {}, withType('application/octet-stream', file)),
  removeProfile: (id: string) => call(ROUTES.removeProfile, { id }),
  /** See proofTable in the engine. */
  proofTable: async (id: string, query: ProofQuery) => {
    const address = `${filled(FILES.proofTable, { id })}?${new URLSearchParams(query).toString()}`
    return new Float32Array(await (await ask(address)).arrayBuffer())
  },
  looks: () => call(ROUTES.looks, {}),
  addTable: (name: string, text: string) =>
    call(ROUTES.addTable, { query: { name } }, withType('text/plain', text)),
  addRecipe: (name: string, recipe: Recipe) => call(ROUTES.addRecipe, { body: { name, recipe } }),
  removeLook: (id: string) => call(ROUTES.removeLook, { id }),
  /** What was found in a frame before, by the name that the engine gives it. */
  found: async (id: string, name: string) => {
    const response = await ask(filled(FILES.found, { id, name }))
    return response.status === 204 ? undefined : new Uint8Array(await response.arrayBuffer())
  },
  putFound: (id: string, name: string, bytes: Uint8Array<ArrayBuffer>) =>
    call(ROUTES.putFound, { id, name }, withType('application/octet-stream', bytes)),
  bulk: async (name: string) => new Uint8Array(await (await ask(filled(FILES.bulk, { name }))).arrayBuffer()),
  putBulk: (name: string, bytes: Uint8Array<ArrayBuffer>) =>
    call(ROUTES.putBulk, { name }, withType('application/octet-stream', bytes)),
  lookTable: async (id: string) => (await ask(filled(FILES.lookTable, { id }))).text(),
  presets: () => call(ROUTES.presets, {}),
  addPreset: (preset: Preset) => call(ROUTES.addPreset, { body: preset }),
  changePreset: (id: string, change: PresetChange) => call(ROUTES.changePreset, { id, body: change }),
  removePreset: (id: string) => call(ROUTES.removePreset, { id }),
  takePresetBack: (id: string) => call(ROUTES.takePresetBack, { id }),
  orderPresets: (ids: readonly string[]) => call(ROUTES.orderPresets, { body: { ids: [...ids] } }),
  hideGroups: (groups: readonly string[]) => call(ROUTES.hideGroups, { body: { groups: [...groups] } }),
  restorePresets: () => call(ROUTES.restorePresets, {}),
  readPresets: (file: File) =>
    call(ROUTES.readPresets, { query: { name: file.name } }, withType('application/octet-stream', file)),
  importPresets: (presets: readonly { file: unknown; how: 'beside' | 'replace' }[]) =>
    call(ROUTES.importPresets, { body: { presets: [...presets] } }),
  presetUrl: (id: string) => `/api${filled(FILES.preset, { id })}`,
  zippedPresetsUrl: (ids: readonly string[]) => `/api${FILES.zippedPresets}?ids=${ids.join(',')}`,
  lenses: (search: string) => call(ROUTES.lenses, { query: { search } }),
  lens: (id: string) => call(ROUTES.lens, { id }),
  findLens: async (wish: LensWish) => (await call(ROUTES.findLens, { body: wish })).found,
  addLens: (profile: LensProfile) => call(ROUTES.addLens, { body: profile }),
  removeLens: (id: string) => call(ROUTES.removeLens, { id }),
  importLenses: async (file: File) =>
    call(ROUTES.importLenses, { query: { name: file.name } }, withType('text/xml', await file.text())),
  importInstalledLenses: () => call(ROUTES.importInstalledLenses, {}),
  newFrames: () => call(ROUTES.newFrames, {}),
  setNewFrames: (value: NewFrames) => call(ROUTES.setNewFrames, { body: value }),
  jobs: () => call(ROUTES.jobs, {}),
  job: (id: string) => call(ROUTES.job, { id }),
  cancelJob: (id: string) => call(ROUTES.cancelJob, { id }),
  pauseJob: (id: string) => call(ROUTES.pauseJob, { id }),
  continueJob: (id: string) => call(ROUTES.continueJob, { id }),
  deliver: (request: NewFiles) => call(ROUTES.deliver, { body: request }),
  expectFiles: (request: NewFiles, signal?: AbortSignal) =>
    call(ROUTES.expectFiles, { body: request }, { signal }),
  estimateFiles: (wanted: WantedEstimate, signal?: AbortSignal) =>
    call(ROUTES.estimateFiles, { body: wanted }, { signal }),
  filesOfJob: (id: string) => call(ROUTES.filesOfJob, { id }),
  /** Addresses of what is shown of a finished file. */
  madePictures: (id: string, number: number) => {
    const at = (route: string) => `/api${filled(route, { id, number: String(number) })}`
    return { thumb: at(FILES.madeThumb), view: at(FILES.madeView), original: at(FILES.madeOriginal) }
  },
  madeFileUrl: (id: string, number: number) =>
    `/api${filled(FILES.madeFile, { id, number: String(number) })}`,
  zippedFilesUrl: (id: string) => `/api${filled(FILES.zippedFiles, { id })}`,
  deliveries: () => call(ROUTES.deliveries, {}),
  addDelivery: (delivery: DeliveryInput) => call(ROUTES.addDelivery, { body: delivery }),
  changeDelivery: (id: string, delivery: DeliveryInput) =>
    call(ROUTES.changeDelivery, { id, body: delivery }),
  removeDelivery: (id: string) => call(ROUTES.removeDelivery, { id }),
}

const WORK_MS = 1000
let told = 0
/** Tells the server that somebody is at work, so that what goes on in the background steps back. */
export function atWork(): void {
  const now = Date.now()
  if (now - told < WORK_MS) return
  told = now
  fetch(`/api${AT_WORK}`, { method: 'POST', keepalive: true }).catch(() => undefined)
}

/** Whether an original is missing or has changed, so that the file has to be found. */
export const isOriginalLost = (error: unknown): boolean =>
  error instanceof ServerProblem && (error.code === 'gone' || error.code === 'changed')

/** Any failure as a sentence. */
export const sentence = (error: unknown): string =>
  error instanceof z.ZodError
    ? 'The server answered in a way this page does not understand. Reload the page.'
    : error instanceof Error
      ? error.message
      : 'Something went wrong.'
