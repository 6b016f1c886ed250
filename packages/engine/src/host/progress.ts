/** Told how much of all is done. */
export type Progress = (done: number, all: number) => void
