import {
  AppendedSchema,
  CopiesKeptSchema,
  CountSchema,
  FramePageSchema,
  JobSchema,
  LensAnswerSchema,
  LensFoundSchema,
  LensImportedSchema,
  LensListSchema,
  LibraryPageSchema,
  LensSummarySchema,
  LogPageSchema,
  LogStateSchema,
  LookEntrySchema,
  NewFramesSchema,
  NewsSchema,
  ProblemSchema,
  ShootPageSchema,
  ShootSchema,
  SidecarsWrittenSchema,
  UploadResultSchema,
  VersionSchema,
  type AtImport,
  type FrameChange,
  type NewExport,
  type NewFrames,
  type NewVersion,
  type VersionView,
} from '@dunkelkammer/contract'
import type { LensProfile, LogPlace, Operation, Recipe } from '@dunkelkammer/core'
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

async function get<T>(path: string, schema: z.ZodType<T>, init?: RequestInit): Promise<T> {
  return schema.parse(await (await ask(path, init)).json())
}

const send = <T>(method: string, path: string, body: unknown, schema: z.ZodType<T>, init?: RequestInit) =>
  get(path, schema, {
    ...init,
    method,
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  })

/** Operations on a log, and where it stood before them. */
interface Batch {
  base: LogPlace
  operations: readonly Operation[]
}
const OkSchema = z.object({ ok: z.boolean() })

/** The server's REST interface, checked by the schemas that the server uses too. */
export const api = {
  shoots: () => get('/shoots', z.array(ShootSchema)),
  createShoot: (name: string, atImport: AtImport = {}) =>
    send('POST', '/shoots', { name, atImport }, ShootSchema),
  shoot: (id: string) => get(`/shoots/${id}`, ShootPageSchema),
  renameShoot: (id: string, name: string) => send('PATCH', `/shoots/${id}`, { name }, ShootSchema),
  removeShoot: (id: string) => get(`/shoots/${id}`, CountSchema, { method: 'DELETE' }),
  setAtImport: (id: string, atImport: AtImport) =>
    send('PUT', `/shoots/${id}/at-import`, atImport, ShootSchema),
  news: (shootId: string, since: number, signal?: AbortSignal) =>
    get(`/shoots/${shootId}/news?since=${since}`, NewsSchema, { signal }),
  changeFrames: (changes: readonly FrameChange[]) => send('PATCH', '/frames', { changes }, CountSchema),
  emptyBin: (shootId: string) => get(`/shoots/${shootId}/bin`, CountSchema, { method: 'DELETE' }),
  writeSidecars: (ids: readonly string[]) => send('POST', '/sidecars', { ids }, SidecarsWrittenSchema),
  zippedSidecars: async (ids: readonly string[]) =>
    (
      await ask('/sidecars/download', {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ ids }),
      })
    ).blob(),
  sendSidecar: (frameId: string, xmp: string) =>
    ask(`/frames/${frameId}/sidecar`, { method: 'PUT', headers: { 'Content-Type': 'text/xml' }, body: xmp }),
  frame: (id: string) => get(`/frames/${id}`, FramePageSchema),
  /** Bytes of a frame's file, and what kind of file it is. */
  original: async (id: string, signal?: AbortSignal) => {
    const response = await ask(`/frames/${id}/original`, { signal })
    return { bytes: await response.arrayBuffer(), format: response.headers.get('X-Format') ?? 'dng' }
  },
  restoreOriginal: (frameId: string, file: File) =>
    ask(`/frames/${frameId}/original`, { method: 'PUT', body: file }),
  keepCopies: (ids: readonly string[]) => send('POST', '/originals/copies', { ids }, CopiesKeptSchema),
  library: () => get('/library', LibraryPageSchema),
  bringInUnknown: () =>
    send('POST', '/library/unknown/bring-in', {}, z.object({ job: JobSchema, shoot: ShootSchema })),
  setUnknownAside: () => send('POST', '/library/unknown/set-aside', {}, CountSchema),
  checkOriginals: () => send('POST', '/library/check', {}, JobSchema),
  previewUrl: (frameId: string) => `/api/frames/${frameId}/preview`,
  thumbUrl: (frame: { id: string; thumb: string }) => `/api/frames/${frame.id}/thumbnail?of=${frame.thumb}`,
  addVersion: (frameId: string, wanted: NewVersion) =>
    send('POST', `/frames/${frameId}/versions`, wanted, VersionSchema),
  version: (id: string) => get(`/versions/${id}`, VersionSchema),
  appendToLog: (id: string, batch: Batch, keepalive = false) =>
    send('POST', `/versions/${id}/log`, batch, AppendedSchema, { keepalive }),
  log: (id: string, before?: number) =>
    get(`/versions/${id}/log${before === undefined ? '' : `?before=${before}`}`, LogPageSchema),
  /** The settings at a place of a log. */
  logAt: (id: string, place: LogPlace) => get(`/versions/${id}/log/${place ?? 'begun'}`, LogStateSchema),
  changeVersion: (id: string, change: { name: string }) =>
    send('PATCH', `/versions/${id}`, change, VersionSchema),
  setVersionView: (id: string, view: VersionView) => send('PUT', `/versions/${id}/view`, view, OkSchema),
  removeVersion: (id: string) => get(`/versions/${id}`, OkSchema, { method: 'DELETE' }),
  takeVersionBack: (id: string) => send('POST', `/versions/${id}/take-back`, {}, VersionSchema),
  showVersion: (id: string) => send('POST', `/versions/${id}/show`, {}, OkSchema),
  orderVersions: (frameId: string, ids: readonly string[]) =>
    send('PUT', `/frames/${frameId}/versions/order`, { ids }, FramePageSchema),
  upload: (shootId: string, file: File, signal?: AbortSignal) =>
    get(
      `/shoots/${shootId}/frames?name=${encodeURIComponent(file.name)}&date=${file.lastModified}`,
      UploadResultSchema,
      { method: 'POST', headers: { 'Content-Type': 'application/octet-stream' }, body: file, signal },
    ),
  importFolder: (shootId: string, path: string, keep: 'copy' | 'in place', text: AtImport) =>
    send('POST', `/shoots/${shootId}/import`, { path, keep, text }, JobSchema),
  looks: () => get('/looks', z.array(LookEntrySchema)),
  addTable: (name: string, text: string) =>
    get(`/looks/table?name=${encodeURIComponent(name)}`, LookEntrySchema, {
      method: 'POST',
      headers: { 'Content-Type': 'text/plain' },
      body: text,
    }),
  addRecipe: (name: string, recipe: Recipe) =>
    send('POST', '/looks/recipe', { name, recipe }, LookEntrySchema),
  removeLook: (id: string) => get(`/looks/${id}`, OkSchema, { method: 'DELETE' }),
  lookTable: async (id: string) => (await ask(`/looks/${id}/table`)).text(),
  lenses: (search: string) => get(`/lenses?search=${encodeURIComponent(search)}`, LensListSchema),
  lens: (id: string) => get(`/lenses/${id}`, LensAnswerSchema),
  findLens: async (wish: LensWish) => (await send('POST', '/lenses/find', wish, LensFoundSchema)).found,
  addLens: (profile: LensProfile) => send('POST', '/lenses', profile, LensSummarySchema),
  removeLens: (id: string) => get(`/lenses/${id}`, OkSchema, { method: 'DELETE' }),
  importLenses: async (file: File) =>
    get(`/lenses/import?name=${encodeURIComponent(file.name)}`, LensImportedSchema, {
      method: 'POST',
      headers: { 'Content-Type': 'text/xml' },
      body: await file.text(),
    }),
  importInstalledLenses: () => send('POST', '/lenses/import-installed', {}, LensImportedSchema),
  newFrames: () => get('/new-frames', NewFramesSchema),
  setNewFrames: (value: NewFrames) => send('PUT', '/new-frames', value, NewFramesSchema),
  jobs: () => get('/jobs', z.array(JobSchema)),
  job: (id: string) => get(`/jobs/${id}`, JobSchema),
  cancelJob: (id: string) => send('POST', `/jobs/${id}/cancel`, {}, JobSchema),
  deliver: (request: NewExport) => send('POST', '/exports', request, JobSchema),
  deliveryUrl: (jobId: string) => `/api/deliveries/${jobId}`,
}

const WORK_MS = 1000
let told = 0
/** Tells the server that somebody is at work, so that what goes on in the background steps back. */
export function atWork(): void {
  const now = Date.now()
  if (now - told < WORK_MS) return
  told = now
  fetch('/api/at-work', { method: 'POST', keepalive: true }).catch(() => undefined)
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
