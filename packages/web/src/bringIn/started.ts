const started = new Set<string>()

/** Remembers a job that this page began: it may be over before anybody has looked at it. */
export const noteStarted = (jobId: string): void => void started.add(jobId)
export const startedHere = (jobId: string): boolean => started.has(jobId)

const quiet = new Set<string>()

/** A job that is told of elsewhere, as long as all goes well. */
export const noteQuiet = (id: string): void => void quiet.add(id)
export const isQuiet = (id: string): boolean => quiet.has(id)
