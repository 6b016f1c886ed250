import { MAX_PINS, type Pin } from '@dunkelkammer/contract'
import {
  curveFunction,
  HueNodeSchema,
  meanNeutral,
  MOST_NODES,
  toOklab,
  working,
  type CurveLine,
  type Square,
  type Development,
  type HueNode,
  type StepId,
  type Triple,
} from '@dunkelkammer/core'
import type { Picture, TracedLine } from '@dunkelkammer/engine/browser'
import { traceLine } from '@dunkelkammer/engine/browser'
import { useMemo, useRef, useState } from 'react'
import { movePoint, pointAt } from './expose/curvePoints'
import type { HuePart } from './balance/HueSection'
import { withStep } from './steps/props'
import { neutralFromSample } from './balance/pickGrey'
import { anotherGuide, levelledAlong, withGuides } from './square/squaringTools'
import type { PictureTool, Place, ToolId } from './state/tools'

/** What the tools work with. */
interface Parts {
  tool: ToolId | undefined
  picture?: Picture
  /** What of the picture is shown. */
  square: Square
  /** Sensor pixels of a pixel on the screen. */
  coarse: number
  development(): Development
  adjust(change: (d: Development) => Development, label: string, gesture?: string): void
  endGesture(): void
  line: CurveLine
  huePart: HuePart
  chooseNode(node: number): void
  /** Another spot is to be seen at full size. */
  setSpot(at: Place): void
  /** An edge was marked that should be straight. */
  mark(line: TracedLine): void
  say(problem: string | undefined): void
  leave(): void
  pins: readonly Pin[]
  setPins(pins: readonly Pin[]): void
}

/** A line while it is drawn: fractions of the frame. */
export interface DrawnNow {
  from: Place
  to: Place
}

/** Pixels of the screen for the whole of a control. */
const REACH = 300
/** Smallest side of an area of interest, long edge 1. */
const SMALLEST = 0.01

/** Place of a light on the curve's axis, as the line of the curve sees it. */
export function onAxis([r, g, b]: Triple, line: CurveLine): number {
  const held = [r, g, b].map((v) => Math.max(v, 0))
  const squares = held[0] ** 2 + held[1] ** 2 + held[2] ** 2
  const size = squares > 0 ? (held[0] ** 3 + held[1] ** 3 + held[2] ** 3) / squares : 0
  const light =
    line === 'red'
      ? held[0]
      : line === 'green'
        ? held[1]
        : line === 'blue'
          ? held[2]
          : line === 'all'
            ? held[1]
            : size
  return Math.min(Math.sqrt(light), 1)
}

const hueOf = (light: Triple): { hue: number; chroma: number } => {
  const [, a, b] = toOklab(working, light)
  return { hue: ((Math.atan2(b, a) * 180) / Math.PI + 360) % 360, chroma: Math.hypot(a, b) }
}
const apart = (a: number, b: number) => Math.abs(((a - b + 540) % 360) - 180)

/** The node that acts most on a hue, or a new one there where none does. */
export function nodeAt(nodes: readonly HueNode[], hue: number): { nodes: HueNode[]; index: number } {
  let index = -1
  nodes.forEach((n, i) => {
    const share = apart(n.hue, hue) / n.width
    if (share < 0.75 && (index < 0 || share < apart(nodes[index].hue, hue) / nodes[index].width)) index = i
  })
  if (index >= 0) return { nodes: [...nodes], index }
  if (nodes.length < MOST_NODES)
    return {
      nodes: [...nodes, HueNodeSchema.parse({ hue: Math.round(hue), width: 40 })],
      index: nodes.length,
    }
  nodes.forEach((n, i) => {
    if (index < 0 || apart(n.hue, hue) < apart(nodes[index].hue, hue)) index = i
  })
  return { nodes: [...nodes], index }
}

/** A part of a node changed by a drag, held to its range. */
export function draggedNode(node: HueNode, part: HuePart, up: number): HueNode {
  const hold = (v: number, most: number) => Math.min(Math.max(v, -most), most)
  if (part === 'shift') return { ...node, shift: Math.round(hold(node.shift + (up / REACH) * 60, 60)) }
  return { ...node, [part]: Math.round(hold(node[part] + up / REACH, 1) * 100) / 100 }
}

/** What the tool in the hand does on the picture, and where on the curve the place under the pointer lies. */
export function usePictureTool(parts: Parts): { tool?: PictureTool; curveMark?: number; drawn?: DrawnNow } {
  const latest = useRef(parts)
  latest.current = parts
  const [curveMark, setMark] = useState<number>()
  const [drawn, setDrawn] = useState<DrawnNow>()
  const { tool: id } = parts
  const asked = useRef(0)

  const tool = useMemo((): PictureTool | undefined => {
    const now = () => latest.current
    const long = () => Math.max(now().picture?.width ?? 1, now().picture?.height ?? 1)
    /** Fractions of the frame to pixels of the picture. */
    const onPicture = (at: Place): readonly [number, number] => {
      const { square } = now()
      return square.toSource(at.x * square.width, at.y * square.height) ?? [0, 0]
    }
    const anywhere = (at: Place) => {
      const [x, y] = onPicture(at)
      return { x: x / long(), y: y / long() }
    }
    /** Fractions of the frame to sensor coordinates, held to the picture. */
    const onSensor = (at: Place) => {
      const { x, y } = anywhere(at)
      return { x: Math.min(Math.max(x, 0), 1), y: Math.min(Math.max(y, 0), 1) }
    }
    const say = (error: unknown) => now().say(error instanceof Error ? error.message : String(error))

    const pickGrey = async (at: Place) => {
      const { picture, coarse, development, adjust } = now()
      if (!picture) return
      const radius = Math.max(3, Math.round(4 * coarse))
      const found = neutralFromSample(await picture.sample(development(), at.x, at.y, radius))
      if ('problem' in found) return now().say(found.problem)
      now().say(undefined)
      adjust((d) => {
        const before = d.steps.cameraColour.source === 'sample' ? d.steps.cameraColour.samples : []
        const samples = [...before, { ...onSensor(at), neutral: found.neutral }]
        return withStep(d, 'cameraColour', {
          source: 'sample',
          samples,
          neutral: meanNeutral(samples.map((s) => s.neutral)) as [number, number, number],
        })
      }, 'Grey picked')
      now().leave()
    }
    /**
     * A drag up or down that works on the light underneath. What that is has to be asked for: until it is known the
     * hand may have moved on, or have let go.
     * @param begin what to do with the light: a function of the way up, or nothing where there is nothing to work on
     */
    const pull = (
      at: Place,
      before: StepId,
      begin: (light: Triple) => ((up: number) => void) | undefined,
    ) => {
      const { picture, development } = now()
      let up = 0
      let over = false
      let put: ((up: number) => void) | undefined
      void picture?.lightBefore(development(), before, at.x, at.y).then((light) => {
        put = begin(light)
        if (!put) return
        if (up !== 0) put(up)
        if (over) now().endGesture()
      }, say)
      return {
        move: (_: Place, by: { up: number }) => {
          up = by.up
          put?.(up)
        },
        end: () => {
          over = true
          if (put) now().endGesture()
        },
      }
    }
    const pickAir = async (at: Place) => {
      const { picture, development, adjust } = now()
      if (!picture) return
      const picked = (await picture.lightBefore(development(), 'haze', at.x, at.y)).map((v) =>
        Math.max(v, 1e-3),
      )
      adjust(
        (d) => withStep(d, 'haze', { air: 'picked', picked: picked as [number, number, number] }),
        'Light of the haze picked',
      )
      now().leave()
    }
    const bendCurve = (at: Place) => {
      const { development, line } = now()
      return pull(at, 'curve', (light) => {
        const x = Math.min(Math.max(onAxis(light, line), 0.02), 0.98)
        const curve = development().steps.curve
        const shape = curveFunction(curve, line)
        const start = pointAt(curve[line], x, shape ? shape(x) : x)
        if (!start) return undefined
        const [px, py] = start.points[start.index]
        return (up) => {
          const points = movePoint(start.points, start.index, px, py + up / REACH)
          now().adjust((d) => withStep(d, 'curve', { [line]: points }), 'Curve bent on the picture', 'bend')
        }
      })
    }
    const pullHue = (at: Place) => {
      const { development, huePart } = now()
      return pull(at, 'hueNodes', (light) => {
        const { hue, chroma } = hueOf(light)
        if (chroma < 0.015) {
          now().say('This place is nearly grey: it has no hue to work on.')
          return undefined
        }
        now().say(undefined)
        const start = nodeAt(development().steps.hueNodes.nodes, hue)
        now().chooseNode(start.index)
        return (up) => {
          const nodes = start.nodes.map((n, i) => (i === start.index ? draggedNode(n, huePart, up) : n))
          now().adjust((d) => withStep(d, 'hueNodes', { nodes }), 'Hue changed on the picture', 'pull')
        }
      })
    }
    const markArea = (from: Place) => {
      const a = onSensor(from)
      let index = -1
      const put = (to: Place) => {
        const b = onSensor(to)
        const area = {
          x: Math.min(a.x, b.x),
          y: Math.min(a.y, b.y),
          width: Math.abs(a.x - b.x),
          height: Math.abs(a.y - b.y),
        }
        if (index < 0 && (area.width < SMALLEST || area.height < SMALLEST)) return
        now().adjust(
          (d) => {
            if (index < 0) index = Math.min(d.interest.length, 11)
            const interest = [...d.interest.slice(0, index), area, ...d.interest.slice(index + 1)]
            return { ...d, interest }
          },
          'Area marked',
          'mark area',
        )
      }
      return { move: put, end: () => now().endGesture() }
    }
    const putCentre = (at: Place) => {
      const put = ({ x, y }: Place) => {
        const hold = (v: number) => Math.round(Math.min(Math.max(v, 0), 1) * 1000) / 1000
        now().adjust(
          (d) => withStep(d, 'edgeBurn', { centre: [hold(x), hold(y)] }),
          'Centre of the edge burn',
          'burn centre',
        )
      }
      put(at)
      return { move: put, end: () => now().endGesture() }
    }
    const askMark = (at: Place | undefined) => {
      const { picture, development, line } = now()
      const mine = ++asked.current
      if (!at || !picture) return setMark(undefined)
      // one question at a time: what the pointer has left meanwhile is not asked for
      setTimeout(() => {
        if (mine !== asked.current) return
        void picture.lightBefore(development(), 'curve', at.x, at.y).then((light) => {
          if (mine === asked.current) setMark(onAxis(light, line))
        }, say)
      }, 16)
    }

    /** Draws a line, and hands its ends over when it is let go. */
    const line = (done: (from: Place, to: Place) => void) => (from: Place) => {
      let to = from
      setDrawn({ from, to })
      return {
        move: (at: Place) => {
          to = at
          setDrawn({ from, to })
        },
        end: () => {
          setDrawn(undefined)
          done(from, to)
        },
      }
    }
    const level = line((from, to) => {
      const next = levelledAlong(now().development(), now().square, from, to)
      if (!next) return
      now().adjust(() => next, 'Levelled along a line')
      now().leave()
    })
    const guide = (is: 'upright' | 'level') =>
      line((from, to) => {
        const { picture, square, development } = now()
        const guides = anotherGuide(development(), is, anywhere(from), anywhere(to))
        if (!picture || !guides) return
        now().adjust(
          (d) => withGuides(d, picture, square, guides),
          is === 'upright' ? 'Upright drawn' : 'Level line drawn',
        )
      })
    const straight = line((from, to) => {
      const { picture, development } = now()
      if (!picture || Math.hypot(to.x - from.x, to.y - from.y) < 0.03) return
      traceLine(picture, development(), onPicture(from), onPicture(to)).then((traced) => {
        now().say(undefined)
        now().mark(traced)
      }, say)
    })

    switch (id) {
      case 'horizon':
        return { id, label: 'Picture: draw along a horizon or an upright', grasp: level }
      case 'upright':
        return { id, label: 'Picture: draw along lines that stand upright', grasp: guide('upright') }
      case 'levelled':
        return { id, label: 'Picture: draw along lines that lie level', grasp: guide('level') }
      case 'straight':
        return { id, label: 'Picture: draw along edges that should be straight', grasp: straight }
      case 'grey':
        return {
          id,
          label: 'Picture: choose a grey place with the arrow keys and Enter',
          press: (at) => void pickGrey(at).catch(say),
        }
      case 'curve':
        return {
          id,
          label: 'Picture: drag a tone up or down to bend the curve; Enter takes the tone under the cross',
          grasp: bendCurve,
          hover: askMark,
        }
      case 'hue':
        return {
          id,
          label: 'Picture: drag a colour up or down to change it; Enter chooses the node under the cross',
          grasp: pullHue,
        }
      case 'interest':
        return { id, label: 'Picture: draw a rectangle around what matters', grasp: markArea }
      case 'air':
        return {
          id,
          label: 'Picture: click on nothing but haze',
          press: (at) => void pickAir(at).catch(say),
        }
      case 'spot':
        return {
          id,
          label: 'Picture: click on the spot to be seen at full size',
          press: (at) => {
            now().setSpot(at)
            now().leave()
          },
        }
      case 'pin':
        return {
          id,
          label: 'Picture: choose a place to be read with the arrow keys and Enter',
          press: (at) => {
            if (now().pins.length < MAX_PINS) now().setPins([...now().pins, onSensor(at)])
            if (now().pins.length + 1 >= MAX_PINS) now().leave()
          },
        }
      case 'centre':
        return { id, label: 'Picture: drag the centre of the edge burn', grasp: putCentre }
      default:
        return undefined
    }
  }, [id])
  return { tool, curveMark: id === 'curve' ? curveMark : undefined, drawn }
}
