import { defineStep, type Step } from './step'

/**
 * A step that moves the picture or says what part of it is shown. All of them together are one map and one resampling
 * (`geometry/square.ts`), made by the pipeline between the kept picture and the rest.
 */
export const defineFrameStep = <S>(
  part: Pick<Step<S>, 'id' | 'schema' | 'neutral'> &
    Partial<Pick<Step<S>, 'absent' | 'idle' | 'soften' | 'stage'>>,
): Step<S> =>
  defineStep<S, unknown>({
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
