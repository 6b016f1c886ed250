const started = new Set<string>()

/** Remembers a job that this page began: it may be over before anybody has looked at it. */
export const noteStarted = (jobId: string): void => void started.add(jobId)
export const startedHere = (jobId: string): boolean => started.has(jobId)
