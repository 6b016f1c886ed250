import { BEND_CURVE } from './tools'
import {
  curveFunction,
  CURVE_LINES,
  RANGE_LINES,
  rangeFunction,
  RANGES,
  startDevelopment,
  type CurveLine,
  type CurveRange,
  type RangeLine,
} from '@dunkelkammer/core'
import { useState } from 'react'
import { Choice } from '../../controls/Choice'
import { NumberControl } from '../../controls/NumberControl'
import { StepSection } from '../steps/StepSection'
import { CurveEditor, CurvePlot } from './CurveEditor'
import { curveLineAtom, curveMarkAtom } from './tones'
import { countedViewAtom } from '../state/looking'
import { useAtom, useAtomValue } from 'jotai'
import { changer, useSection } from '../steps/props'

const LINE_NAMES: Record<CurveLine, string> = {
  luminance: 'Luminance',
  all: 'RGB',
  red: 'R',
  green: 'G',
  blue: 'B',
}
const RANGE_NAMES: Record<CurveRange, string> = {
  low: 'Dark range',
  middle: 'Middle range',
  high: 'Light range',
}
const START = startDevelopment().steps

export function CurveSection() {
  const props = useSection('curve')
  const { development, endGesture, tool, toggleTool, inArea } = props
  const view = useAtomValue(countedViewAtom)
  const mark = useAtomValue(curveMarkAtom)
  const [line, setLine] = useAtom(curveLineAtom)
  const settings = development.steps.curve
  const set = changer(props, 'curve')
  return (
    <StepSection {...props} title="Curve" steps={['curve']} folded>
      <Choice
        label="Curve for"
        value={line}
        options={CURVE_LINES.map((value) => ({ value, label: LINE_NAMES[value] }))}
        onChange={setLine}
      />
      <CurveEditor
        label={`Curve for ${LINE_NAMES[line]}`}
        line={line}
        points={settings[line]}
        shape={curveFunction(settings, line)}
        view={view}
        mark={tool === BEND_CURVE ? mark : undefined}
        onChange={(points, gesture) => set({ [line]: points }, `Curve ${LINE_NAMES[line]}`, gesture)}
        onEnd={endGesture}
      />
      {!inArea && (
        <button
          className="button mt-2 w-full"
          aria-pressed={tool === BEND_CURVE}
          onClick={() => toggleTool(BEND_CURVE)}
        >
          {tool === BEND_CURVE ? 'Drag a tone of the picture up or down' : 'Adjust on the picture'}
        </button>
      )}
    </StepSection>
  )
}

export function RangeSection() {
  const props = useSection('rangeCurve')
  const { development, endGesture } = props
  const view = useAtomValue(countedViewAtom)
  const [line, setLine] = useState<RangeLine>('all')
  const settings = development.steps.rangeCurve
  const set = changer(props, 'rangeCurve')
  const [low, high] = settings.borders
  return (
    <StepSection {...props} title="Curve by ranges" steps={['rangeCurve']} folded>
      <Choice
        label="Ranges for"
        value={line}
        options={RANGE_LINES.map((value) => ({ value, label: LINE_NAMES[value] }))}
        onChange={setLine}
      />
      <div className="mt-2">
        <CurvePlot line={line} shape={rangeFunction(settings, line)} view={view} borders={settings.borders} />
      </div>
      {RANGES.map((r) => (
        <NumberControl
          key={r}
          label={RANGE_NAMES[r]}
          unit="%"
          value={Math.round(settings[line][r] * 100)}
          min={-100}
          max={100}
          step={5}
          digits={0}
          signed
          start={0}
          onChange={(v) =>
            set(
              (now) => ({ [line]: { ...now[line], [r]: v / 100 } }),
              `${RANGE_NAMES[r]}`,
              `range ${line} ${r}`,
            )
          }
          onEnd={endGesture}
        />
      ))}
      <NumberControl
        label="Lower border"
        unit="%"
        value={Math.round(low * 100)}
        min={10}
        max={Math.round(high * 100) - 10}
        step={1}
        digits={0}
        start={START.rangeCurve.borders[0] * 100}
        onChange={(v) => set({ borders: [v / 100, high] }, 'Border of the ranges', 'border low')}
        onEnd={endGesture}
      />
      <NumberControl
        label="Upper border"
        unit="%"
        value={Math.round(high * 100)}
        min={Math.round(low * 100) + 10}
        max={90}
        step={1}
        digits={0}
        start={START.rangeCurve.borders[1] * 100}
        onChange={(v) => set({ borders: [low, v / 100] }, 'Border of the ranges', 'border high')}
        onEnd={endGesture}
      />
    </StepSection>
  )
}
