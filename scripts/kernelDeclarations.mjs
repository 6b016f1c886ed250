/** Declares the kernels for TypeScript, from their sources: `node scripts/kernelDeclarations.mjs` writes the file anew. */
import { readFileSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'

const core = join(dirname(fileURLToPath(import.meta.url)), '../packages/core')
const sources = join(core, 'kernels/assembly')
export const DECLARED = join(core, 'src/kernels/declared.ts')

const HEAD = `// Made from kernels/assembly by scripts/kernelDeclarations.mjs; changes here are lost.

/**
 * The inner loops, compiled from \`kernels/assembly\`. All arguments are byte addresses in the engine's memory or
 * plain numbers; what each does is said beside its source. Addresses are multiples of 16, counts of floats
 * multiples of 4.
 */
// prettier-ignore
export interface Kernels {
`

/** One function of a source as a line of the interface. */
function declare(name, text, file) {
  const found = new RegExp(`export function ${name}\\(([^)]*)\\)\\s*:\\s*(\\w+)`).exec(text)
  if (!found) throw new Error(`${file} has no function ${name}.`)
  const parameters = found[1]
    .replace(/\/\/.*$/gm, '')
    .split(',')
    .map((p) => p.split(':')[0].trim())
    .filter(Boolean)
    .map((p) => `${p}: number`)
  return `  ${name}(${parameters.join(', ')}): ${found[2] === 'void' ? 'void' : 'number'}\n`
}

/** The declarations as text. */
export function kernelDeclarations() {
  const index = readFileSync(join(sources, 'index.ts'), 'utf8')
  let out = HEAD
  for (const [, names, module] of index.matchAll(/export \{([^}]*)\} from '\.\/(\w+)'/g)) {
    const text = readFileSync(join(sources, `${module}.ts`), 'utf8')
    for (const name of names.split(',').map((n) => n.trim()))
      if (name) out += declare(name, text, `${module}.ts`)
  }
  return `${out}}\n`
}

export const writeDeclarations = () => writeFileSync(DECLARED, kernelDeclarations())

if (import.meta.url === pathToFileURL(process.argv[1]).href) writeDeclarations()
