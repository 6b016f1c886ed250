import type { Development, StageId } from '@dunkelkammer/core'
import type { createStore } from 'jotai'
import type { ComponentType } from 'react'
import type { Command } from '../../commands/commands'
import type { VersionDesk } from '../../desk/versionDesk'
import type { Zoom } from '../picture/geometry'

/** A place of the picture, as fractions of its width and height. */
export interface Place {
  x: number
  y: number
  /** Of a pen that is drawn with here, 0..1. */
  pressure?: number
}

export type Store = ReturnType<typeof createStore>

/** What commands, tools and controls of a bench work with; the same object as long as the bench is there. */
export interface Bench {
  get: Store['get']
  set: Store['set']
  /** Changes the settings of the version on the bench; see VersionDesk.adjust. */
  adjust: VersionDesk['adjust']
  endGesture(): void
  /** Something of a gesture is still being computed: what comes of it is the same step. */
  holdGesture(name: string): void
  /** The gesture is over, and what it has done is taken back. @param since the settings before it */
  dropGesture(since: Development): void
  /** Takes a tool into the hand, in the stage it belongs to, or puts away the one that is there. */
  take(tool: ToolKind | undefined): void
  /** Takes a tool up, or puts it away where it is in the hand. */
  toggleTool(tool: ToolKind): void
  /** Says why a tool could not do its work; nothing takes it back. */
  say(problem: string | undefined): void
  chooseStage(stage: StageId): void
  /** @param at what comes into the middle of the pane */
  zoom(zoom: Zoom, at?: Place): void
}

/** Something that a tool has taken hold of. */
export interface Hold {
  /** Up and right are positive, in pixels of the screen. */
  move(at: Place, by: { right: number; up: number }): void
  end(): void
  /** Lets go as if nothing had been done. */
  cancel(): void
}

/** Keys that are held while something is taken hold of. */
export interface HeldKeys {
  alt: boolean
  shift: boolean
}

/** A tool in the hand: what it does on places of the picture. */
export interface PictureTool {
  /** A place is taken: by a click, or by Enter with the cross. */
  press?(at: Place): void
  /** A place is taken hold of and moved. */
  grasp?(at: Place, keys: HeldKeys): Hold
  /** The pointer is over a place, or has left. */
  hover?(at: Place | undefined): void
}

/** Something that can be taken into the hand. */
export interface ToolKind {
  id: string
  /** What the picture is called while it is in the hand. */
  label: string
  /** It draws from one place to another: keys take the one, then the other. */
  draws?: true
  /** The stage it belongs to. */
  stage?: StageId
  /** All of the picture is seen while it is in the hand, and the frame on it. */
  whole?: true
  /** Missing where all is done by what lies over the picture. */
  begin?(bench: Bench): PictureTool
  /** Drawn over the picture while it is in the hand. */
  Overlay?: ComponentType
  /** Makes its tip larger or smaller, for the wheel with Alt. */
  size?(bench: Bench, factor: number): void
}

/** A part of the bench's work, with all that belongs to it. What it does not have is left out. */
export interface Feature {
  /** Its sections in the drawer of a stage. */
  drawer?: { stage: StageId; Sections: ComponentType }
  /** Lies over the picture. */
  Overlay?: ComponentType
  /** Stands beside the picture. */
  Beside?: ComponentType
  /** In the line below the picture. */
  Foot?: ComponentType
  /** Dialogs and notices, shown when they are wanted. */
  Panel?: ComponentType
  /** Keeps what others read up to date; shows nothing itself. */
  Works?: ComponentType
  /** What stays as it is when the next frame is taken. */
  keeps?: readonly ((from: Store, to: Store) => void)[]
  /** What can be done by key or by name, as things stand. */
  commands?(bench: Bench): readonly Command[]
}
