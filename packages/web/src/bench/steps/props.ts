import type { CameraColour, Development, FileProfile, StepId } from '@dunkelkammer/core'
import { atom, useAtomValue, type Atom } from 'jotai'
import { selectAtom } from 'jotai/utils'
import { useMemo } from 'react'
import { developmentAtom, pictureAtom, toolAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import type { Bench, ToolKind } from '../state/types'
import { withStep } from './withStep'

/** What the controls of some steps work with. */
export interface SectionProps extends Pick<Bench, 'adjust' | 'endGesture' | 'take' | 'toggleTool'> {
  /** May be old but for the steps of the section. */
  development: Development
  /** The tool in the hand. */
  tool?: ToolKind
}

const sameSteps = (a: Development, b: Development, steps: readonly StepId[]) =>
  steps.every(
    (id) =>
      a.steps[id] === b.steps[id] &&
      a.strength[id] === b.strength[id] &&
      a.off.includes(id) === b.off.includes(id),
  )

const known = new Map<string, Atom<Development>>()
/** The development, another one only where these steps have changed. */
function developmentOf(steps: readonly StepId[]): Atom<Development> {
  const key = steps.join()
  let made = known.get(key)
  if (!made) {
    made = selectAtom(
      developmentAtom,
      (d) => d,
      (a, b) => sameSteps(a, b, steps),
    )
    known.set(key, made)
  }
  return made
}

/**
 * What a section works with. It is drawn anew only where its own steps change: a control that is dragged must not
 * wait for all the others.
 */
export function useSection(...steps: StepId[]): SectionProps {
  const { adjust, endGesture, take, toggleTool } = useBench()
  const development = useAtomValue(developmentOf(steps))
  const tool = useAtomValue(toolAtom)
  return useMemo(
    () => ({ adjust, endGesture, take, toggleTool, development, tool }),
    [adjust, endGesture, take, toggleTool, development, tool],
  )
}

/** The camera's colours, once the file is open. */
export const cameraAtom = atom((get): CameraColour | undefined => get(pictureAtom)?.frame.colour)
/** The maker's own rendering, where the file brings one. */
export const profileAtom = atom((get): FileProfile | undefined => get(pictureAtom)?.frame.profile)

type Steps = Development['steps']

/** Changes a part of one step's settings, as the controls of a drawer do. */
export const changer =
  <K extends keyof Steps & StepId>({ adjust }: Pick<Bench, 'adjust'>, id: K) =>
  (part: Partial<Steps[K]> | ((now: Steps[K]) => Partial<Steps[K]>), label: string, gesture?: string) =>
    adjust((d) => withStep(d, id, typeof part === 'function' ? part(d.steps[id]) : part), label, gesture)
