import type { z } from 'zod'
import type { Defined } from './step'

/**
 * A step that moves the picture or says what part of it is shown. All of them together are one map and one resampling
 * (`geometry/square.ts`), made by the pipeline between the kept picture and the rest.
 */
export const defineFrameStep = <const Id extends string, Schema extends z.ZodType>(
  part: Pick<Defined<Id, Schema>, 'id' | 'schema' | 'neutral'> & { name: string } & Partial<
      Pick<Defined<Id, Schema>, 'absent' | 'belongs' | 'idle' | 'says' | 'stage'>
    >,
): Defined<Id, Schema> & { name: string; settingsOf?: never } => ({
  stage: 'square-up',
  essential: false,
  keep: false,
  takes: 'frame',
  yields: 'camera',
  reach: () => 0,
  prepare: () => undefined,
  run: () => undefined,
  ...part,
})
