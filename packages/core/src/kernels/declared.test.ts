import { readFileSync } from 'node:fs'
import { expect, it } from 'vitest'
// @ts-expect-error a script of the build, without types
import { DECLARED, kernelDeclarations } from '../../../../scripts/kernelDeclarations.mjs'

it('declares the kernels as their sources have them', () => {
  expect(readFileSync(DECLARED as string, 'utf8')).toBe(kernelDeclarations())
})
