import type { CameraColour, Development, FileProfile, PartId, StepId } from '@dunkelkammer/core'
import { atom, useAtomValue, type Atom } from 'jotai'
import { selectAtom } from 'jotai/utils'
import { createContext, useContext, useMemo, type ReactNode } from 'react'
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
  /** The settings are those of an area: what works on the whole picture is left out. */
  inArea: boolean
}

const sameSteps = (a: Development, b: Development, steps: readonly StepId[]) =>
  steps.every(
    (id) =>
      a.steps[id] === b.steps[id] &&
      a.strength[id] === b.strength[id] &&
      a.off.includes(id) === b.off.includes(id),
  )

/** Where steps have their settings: the whole picture, or one area of it. */
export interface Workplace {
  /** As if its settings were all there is. */
  development: Atom<Development>
  adjust: Bench['adjust']
  /** What stands beside the title of a section there. */
  tools(title: string, steps: readonly PartId[]): ReactNode
}

/** The area whose steps are shown; the whole picture where there is none. */
export const WorkplaceContext = createContext<Workplace | undefined>(undefined)

const known = new WeakMap<Atom<Development>, Map<string, Atom<Development>>>()
/** The development, another one only where these steps have changed. */
function developmentOf(whole: Atom<Development>, steps: readonly StepId[]): Atom<Development> {
  const key = steps.join()
  const all = known.get(whole) ?? new Map<string, Atom<Development>>()
  known.set(whole, all)
  let made = all.get(key)
  if (!made) {
    made = selectAtom(
      whole,
      (d) => d,
      (a, b) => sameSteps(a, b, steps),
    )
    all.set(key, made)
  }
  return made
}

/**
 * What a section works with. It is drawn anew only where its own steps change: a control that is dragged must not
 * wait for all the others.
 */
export function useSection(...steps: StepId[]): SectionProps {
  const bench = useBench()
  const place = useContext(WorkplaceContext)
  const adjust = place?.adjust ?? bench.adjust
  const { endGesture, take, toggleTool } = bench
  const development = useAtomValue(developmentOf(place?.development ?? developmentAtom, steps))
  const tool = useAtomValue(toolAtom)
  return useMemo(
    () => ({ adjust, endGesture, take, toggleTool, development, tool, inArea: place !== undefined }),
    [adjust, endGesture, take, toggleTool, development, tool, place],
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
