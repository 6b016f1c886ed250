import type { Job } from '@dunkelkammer/contract'
import type { z } from 'zod'

/** What a running job may say of itself. */
export interface JobReport {
  /** The job's name. */
  id: string
  progress(share: number, message?: string): void
  problem(text: string): void
  signal: AbortSignal
}

/** What a job came to. */
export interface JobOutcome {
  message: string
  fileName?: string
  /** What can be taken back. */
  made?: unknown
  /** Some of it was not done, and can be tried again. */
  retries?: boolean
}

/** A kind of work: how it is asked for, and how it is done. */
export interface JobKind<R = unknown> {
  schema: z.ZodType<R>
  /** Does it, or what of it is not done yet. */
  run(request: R, report: JobReport): Promise<JobOutcome>
  /**
   * What is said of a job that was stopped on the way and cannot be gone on with. Where there is no such sentence the job
   * is taken up again, by `run`.
   * @param said what it last said of its progress
   */
  stopped?(said: string): string
  /** What is said of one that was cancelled on the way. */
  cancelled?(said: string): string
  /** Can be held up, gone on with, and tried again where parts of it failed. */
  pauses?: boolean
  /** Makes ready what failed to be tried again. */
  again?(jobId: string): void
}

export type JobKinds = Partial<Record<Job['kind'], JobKind>>

/** A kind, its request's type forgotten: whoever runs it has it checked by its schema first. */
export const defineKind = <R>(kind: JobKind<R>): JobKind => kind as unknown as JobKind
