/** Folders above the library or the project may have names that begin with a dot. */
export const ANYWHERE = { dotfiles: 'allow' } as const
/** What lies at an address that changes with it. */
export const FOR_GOOD = 'private, max-age=86400, immutable'
