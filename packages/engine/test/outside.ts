import { exiftoolPath } from 'exiftool-vendored'
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

/** Asks an independent reader of metadata about a file. */
async function ask(bytes: Uint8Array, ending: string, ...args: string[]): Promise<string> {
  const folder = mkdtempSync(join(tmpdir(), 'dunkelkammer-'))
  try {
    const file = join(folder, `made${ending}`)
    writeFileSync(file, bytes)
    return execFileSync('perl', [await exiftoolPath(), ...args, file], { encoding: 'utf8' })
  } finally {
    rmSync(folder, { recursive: true })
  }
}

/** What an independent reader finds wrong with a file's metadata: a line each, none where all is right. */
export const complaints = async (bytes: Uint8Array, ending: string): Promise<string[]> =>
  (await ask(bytes, ending, '-validate', '-warning', '-error', '-a', '-s3'))
    .split('\n')
    .filter((line) => line && line !== 'OK')

/** What an independent reader finds in a file, by group and name: "IFD0:Make". */
export async function tagsOf(bytes: Uint8Array, ending: string): Promise<Record<string, unknown>> {
  const [all] = JSON.parse(await ask(bytes, ending, '-j', '-G1', '-n', '-struct')) as Record<
    string,
    unknown
  >[]
  return all
}

/**
 * A file whose metadata an independent program has written.
 * @param args what it is told, such as "-XMP-dc:Title=x"
 * @param packet XMP that it puts in as it is
 */
export async function rewritten(
  bytes: Uint8Array,
  ending: string,
  args: readonly string[],
  packet?: string,
): Promise<Uint8Array> {
  const folder = mkdtempSync(join(tmpdir(), 'dunkelkammer-'))
  try {
    const file = join(folder, `made${ending}`)
    writeFileSync(file, bytes)
    writeFileSync(join(folder, 'packet.xmp'), packet ?? '')
    const all = [...args, ...(packet ? ['-tagsFromFile', join(folder, 'packet.xmp'), '-xmp'] : [])]
    execFileSync('perl', [await exiftoolPath(), '-q', '-m', '-overwrite_original', ...all, file])
    return new Uint8Array(readFileSync(file))
  } finally {
    rmSync(folder, { recursive: true })
  }
}

const require = createRequire(import.meta.url)

interface RawLibrary {
  LibRaw: new () => {
    open(bytes: Uint8Array, settings: object): Promise<void>
    imageData(): Promise<{ width: number; height: number; data: Uint8Array }>
  }
}

/** Size and mean values of a raw file as an independent library develops it, as shot. */
export async function rawLibraryMeans(bytes: Uint8Array) {
  const wasm = require.resolve('libraw-wasm').replace(/index\.js$/, 'libraw.wasm')
  const { default: make } = (await import(wasm.replace(/\.wasm$/, '.js'))) as {
    default(o: object): Promise<RawLibrary>
  }
  const { LibRaw } = await make({ wasmBinary: readFileSync(wasm), printErr: () => undefined })
  const file = new LibRaw()
  await file.open(bytes, { outputColor: 1, useCameraWb: true, noAutoBright: true })
  const { width, height, data } = await file.imageData()
  const means = [0, 0, 0]
  for (let i = 0; i < data.length; i++) means[i % 3] += (data[i] * 3) / data.length
  return { size: [width, height], means }
}
