import { readCube } from '@dunkelkammer/core'
import { createEngine, type Engine } from '@dunkelkammer/engine/browser'
import { api } from '../api/client'
import { bulkBytes } from '../desk/bulk'
import shared from '../../../core/kernels/build/kernels.shared.wasm?url'
import single from '../../../core/kernels/build/kernels.single.wasm?url'

let engine: Promise<Engine> | undefined

/** This page's engine, started when first wanted. */
export function theEngine(): Promise<Engine> {
  engine ??= createEngine({ shared, single }).then(
    (made) => {
      made.tableSource = async (name) => readCube(await api.lookTable(name))
      made.lensSource = api.findLens
      made.bulkSource = bulkBytes
      return made
    },
    (error: unknown) => {
      engine = undefined
      throw error
    },
  )
  return engine
}
