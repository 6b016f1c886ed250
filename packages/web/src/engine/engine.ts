import { createEngine, type Engine } from '@dunkelkammer/engine/browser'
import shared from '../../../core/kernels/build/kernels.shared.wasm?url'
import single from '../../../core/kernels/build/kernels.single.wasm?url'

let engine: Promise<Engine> | undefined

/** This page's engine, started when first wanted. */
export function theEngine(): Promise<Engine> {
  engine ??= createEngine({ shared, single }).catch((error: unknown) => {
    engine = undefined
    throw error
  })
  return engine
}
