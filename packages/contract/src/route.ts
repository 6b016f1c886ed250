import type { z } from 'zod'

export type Method = 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE'

/** Names in a path: "id" of "/frames/:id". */
export type NamesIn<P extends string> = P extends `${string}:${infer Name}/${infer Rest}`
  ? Name | NamesIn<Rest>
  : P extends `${string}:${infer Name}`
    ? Name
    : never

/** One thing that can be asked of the server, with what is sent and what comes back. */
export interface Route<
  P extends string = string,
  A extends z.ZodType = z.ZodType,
  B extends z.ZodType = z.ZodType,
  Q extends z.ZodType = z.ZodType,
> {
  method: Method
  path: P
  /** Status of the answer. */
  status: number
  answer: A
  /** What is sent as JSON. */
  body?: B
  /** Most bytes of it. */
  most?: number
  query?: Q
}

interface Sent<B extends z.ZodType, Q extends z.ZodType> {
  body?: B
  most?: number
  query?: Q
  status?: number
}

/** A route with a JSON answer. */
export const route = <
  const P extends string,
  A extends z.ZodType,
  B extends z.ZodType = z.ZodUndefined,
  Q extends z.ZodType = z.ZodUndefined,
>(
  request: `${Method} ${P}`,
  answer: A,
  sent: Sent<B, Q> = {},
): Route<P, A, B, Q> => {
  const [method, path] = request.split(' ') as [Method, P]
  return { status: 200, ...sent, method, path, answer }
}

/** A path with its names filled in. */
export const filled = (path: string, params: Readonly<Record<string, string>> = {}): string =>
  path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(params[name]))
