const key = (shootId: string) => `in hand ${shootId}`

/** The frame of a shoot that this window had in hand last: sheet and bench hand it to each other. */
export const handOf = (shootId: string): string | undefined =>
  sessionStorage.getItem(key(shootId)) ?? undefined

export const takeInHand = (shootId: string, frameId: string): void =>
  sessionStorage.setItem(key(shootId), frameId)
