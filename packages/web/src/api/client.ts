import {
  FramePageSchema,
  JobSchema,
  ProblemSchema,
  ShootPageSchema,
  ShootSchema,
  UploadResultSchema,
  VersionSchema,
  type NewExport,
  type VersionState,
} from '@dunkelkammer/contract'
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

/** The server's REST interface, checked by the schemas that the server uses too. */
export const api = {
  shoots: () => get('/shoots', z.array(ShootSchema)),
  createShoot: (name: string) => send('POST', '/shoots', { name }, ShootSchema),
  shoot: (id: string) => get(`/shoots/${id}`, ShootPageSchema),
  frame: (id: string) => get(`/frames/${id}`, FramePageSchema),
  original: async (id: string, signal?: AbortSignal) =>
    (await ask(`/frames/${id}/original`, { signal })).arrayBuffer(),
  previewUrl: (frameId: string) => `/api/frames/${frameId}/preview`,
  saveVersion: (id: string, revision: number, state: VersionState, keepalive = false) =>
    send('PUT', `/versions/${id}`, { revision, state }, VersionSchema, { keepalive }),
  upload: (shootId: string, file: File) =>
    get(`/shoots/${shootId}/frames?name=${encodeURIComponent(file.name)}`, UploadResultSchema, {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream' },
      body: file,
    }),
  importFolder: (shootId: string, path: string) =>
    send('POST', `/shoots/${shootId}/import`, { path }, JobSchema),
  jobs: () => get('/jobs', z.array(JobSchema)),
  job: (id: string) => get(`/jobs/${id}`, JobSchema),
  cancelJob: (id: string) => send('POST', `/jobs/${id}/cancel`, {}, JobSchema),
  deliver: (request: NewExport) => send('POST', '/exports', request, JobSchema),
  deliveryUrl: (jobId: string) => `/api/deliveries/${jobId}`,
}

/** Any failure as a sentence. */
export const sentence = (error: unknown): string =>
  error instanceof z.ZodError
    ? 'The server answered in a way this page does not understand. Reload the page.'
    : error instanceof Error
      ? error.message
      : 'Something went wrong.'
