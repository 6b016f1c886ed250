import { hasKnownEnding } from './identify'

/** Endings of finished pictures: beside a raw file of the same name they are made from it. */
const PICTURES = ['jpg', 'jpeg', 'png', 'tif', 'tiff', 'webp', 'avif', 'heic', 'heif', 'hif']

const lower = (name: string) => name.toLowerCase()
const bare = (name: string) => lower(name).replace(/\.[^.]*$/, '')
const isPicture = (name: string) => PICTURES.includes(lower(name).slice(name.lastIndexOf('.') + 1))

/** Files of a folder that differ in their ending alone, sorted: raw files first. */
const alike = (file: string, names: readonly string[]): string[] =>
  names
    .filter((n) => bare(n) === bare(file) && hasKnownEnding(n))
    .sort((a, b) => Number(isPicture(a)) - Number(isPicture(b)) || (lower(a) < lower(b) ? -1 : 1))

/**
 * The sidecar of a file among the names of its folder: "a.jpg.xmp", or "a.xmp" where no other file has a better right
 * to that. Of files that share it, it is the raw file's.
 */
export function sidecarAmong(file: string, names: readonly string[]): string | undefined {
  const called = (name: string) => names.find((n) => lower(n) === `${lower(name)}.xmp`)
  const whole = called(file)
  if (whole !== undefined) return whole
  const [first = file] = alike(file, names)
  return lower(first) === lower(file) ? called(bare(file)) : undefined
}

/** Where the sidecar of a file is written: where it lies, else where it is told from those of others. */
export function sidecarPlace(file: string, names: readonly string[]): string {
  const there = sidecarAmong(file, names)
  if (there !== undefined) return there
  const shared = alike(file, names).some((n) => lower(n) !== lower(file))
  const taken = names.some((n) => lower(n) === `${bare(file)}.xmp`)
  return shared || taken ? `${file}.xmp` : `${file.replace(/\.[^.]*$/, '')}.xmp`
}
