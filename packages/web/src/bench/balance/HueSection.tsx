import { useAtom, useAtomValue } from 'jotai'
import {
  chosenNodeAtom,
  huePartAtom,
  HUE_PARTS_BY_HAND,
  huesAtom,
  showingNodeAtom,
  type HuePart,
} from './hues'
import { PULL_HUE } from './tools'
import { CHROMA_TOP, HueNodeSchema, MOST_NODES, type HueNode } from '@dunkelkammer/core'
import { Plus, Trash2 } from 'lucide-react'
import { Choice } from '../../controls/Choice'
import { NumberControl } from '../../controls/NumberControl'
import { Numbers, numbersIn } from '../steps/StepNumbers'
import { StepSection } from '../steps/StepSection'
import { HueStrip } from './HueStrip'
import { changer, useSection } from '../steps/props'

const NODE = numbersIn(HueNodeSchema, 'shift', 'colour', 'light', 'width')
const PART_NAMES: Record<HuePart, string> = { shift: 'Hue', colour: 'Colourfulness', light: 'Lightness' }

export function HueSection() {
  const props = useSection('hueNodes')
  const { development, endGesture, tool, toggleTool, inArea } = props
  const hues = useAtomValue(huesAtom)
  const [wanted, choose] = useAtom(chosenNodeAtom)
  const [part, setPart] = useAtom(huePartAtom)
  const [showing, show] = useAtom(showingNodeAtom)
  const { nodes } = development.steps.hueNodes
  const chosen = Math.min(wanted, nodes.length - 1)
  const node: HueNode | undefined = nodes[chosen]
  const set = changer(props, 'hueNodes')
  const change = (what: Partial<HueNode>, label: string, gesture: string) =>
    set(
      (now) => ({ nodes: now.nodes.map((n, i) => (i === chosen ? { ...n, ...what } : n)) }),
      label,
      `node ${chosen} ${gesture}`,
    )
  const add = () => {
    // in the middle of the widest gap
    const sorted = nodes.map((n) => n.hue).sort((a, b) => a - b)
    let hue = 0
    let widest = -1
    sorted.forEach((h, i) => {
      const gap = (sorted[(i + 1) % sorted.length] - h + 360) % 360 || 360
      if (gap > widest) {
        widest = gap
        hue = (h + gap / 2) % 360
      }
    })
    set({ nodes: [...nodes, HueNodeSchema.parse({ hue: Math.round(hue), width: 40 })] }, 'Hue node added')
    choose(nodes.length)
  }
  const limit = (label: string, key: 'chroma' | 'lightness', end: 0 | 1, scale: number) => {
    const pair = node![key]
    return (
      <NumberControl
        label={label}
        unit="%"
        value={Math.round((pair[end] / scale) * 100)}
        min={end === 0 ? 0 : Math.round((pair[0] / scale) * 100)}
        max={end === 0 ? Math.round((pair[1] / scale) * 100) : 100}
        step={1}
        digits={0}
        start={end * 100}
        onChange={(v) => {
          const next: [number, number] = [...pair]
          next[end] = (v / 100) * scale
          change({ [key]: next }, `Hue node, ${label.toLowerCase()}`, `${key} ${end}`)
        }}
        onEnd={endGesture}
      />
    )
  }
  return (
    <StepSection {...props} title="Hue nodes" steps={['hueNodes']}>
      <HueStrip
        nodes={nodes}
        chosen={chosen}
        hues={hues}
        onChoose={choose}
        onMove={(i, hue) =>
          set(
            (now) => ({ nodes: now.nodes.map((n, k) => (k === i ? { ...n, hue } : n)) }),
            'Hue node moved',
            `node ${i} hue`,
          )
        }
        onEnd={endGesture}
      />
      <div className="mt-2 flex gap-1.5">
        {!inArea && (
          <>
            <button
              className="button flex-1 !px-2"
              aria-pressed={tool === PULL_HUE}
              onClick={() => toggleTool(PULL_HUE)}
            >
              {tool === PULL_HUE ? 'Drag a colour up or down' : 'Adjust on the picture'}
            </button>
            <button
              className="button !px-2"
              aria-pressed={showing}
              disabled={!node}
              onClick={() => show(!showing)}
              title="Shows without colour what the chosen node does not select"
            >
              Selection
            </button>
          </>
        )}
        <button
          className="icon-button"
          aria-label="Add a hue node"
          disabled={nodes.length >= MOST_NODES}
          onClick={add}
        >
          <Plus className="h-4 w-4" aria-hidden />
        </button>
        <button
          className="icon-button"
          aria-label="Remove the chosen hue node"
          disabled={!node}
          onClick={() => set({ nodes: nodes.filter((_, i) => i !== chosen) }, 'Hue node removed')}
        >
          <Trash2 className="h-4 w-4" aria-hidden />
        </button>
      </div>
      {tool === PULL_HUE && (
        <Choice
          label="Dragging changes"
          className="mt-2"
          value={part}
          options={HUE_PARTS_BY_HAND.map((value) => ({ value, label: PART_NAMES[value] }))}
          onChange={setPart}
        />
      )}
      {node && (
        <div className="mt-1">
          <Numbers
            numbers={NODE}
            values={node}
            onChange={(name, value, label) =>
              change({ [name]: value }, `Hue node, ${label.toLowerCase()}`, name)
            }
            onEnd={endGesture}
          />
          <details className="mt-1">
            <summary className="cursor-pointer py-1 text-quiet">Limits</summary>
            {limit('Colourfulness from', 'chroma', 0, CHROMA_TOP)}
            {limit('Colourfulness up to', 'chroma', 1, CHROMA_TOP)}
            {limit('Lightness from', 'lightness', 0, 1)}
            {limit('Lightness up to', 'lightness', 1, 1)}
          </details>
        </div>
      )}
    </StepSection>
  )
}
