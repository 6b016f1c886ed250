import { NumberControl } from '../../controls/NumberControl'
import { Select } from '../../controls/Select'
import { ShareControl } from '../../controls/ShareControl'
import { optionsOf } from '../steps/StepNumbers'
import { StepSection } from '../steps/StepSection'
import { Toggle } from '../../controls/Toggle'
import { changer, useSection } from '../steps/props'
import { compareAnother } from '../versions/actions'
import { useBench } from '../state/bench'

const FILTERS = optionsOf('monochrome', 'filter')
const TONERS = optionsOf('toning', 'toner')
const named = <T extends string>(options: readonly { value: T; label: string }[], value: T) =>
  options.find((o) => o.value === value)!.label

export function MonochromeSection() {
  const props = useSection('monochrome', 'toning')
  const bench = useBench()
  const { development, endGesture } = props
  const { monochrome, toning } = development.steps
  const set = changer(props, 'monochrome')
  const tone = changer(props, 'toning')
  return (
    <>
      <StepSection {...props} title="Monochrome" steps={['monochrome']}>
        <Toggle
          label="Monochrome picture"
          checked={monochrome.on}
          onChange={(on) => set({ on }, on ? 'Monochrome' : 'Colour')}
        />
        {monochrome.on && (
          <>
            <Select
              label="Lens filter"
              value={monochrome.filter}
              options={FILTERS}
              onChange={(filter) => set({ filter }, `${named(FILTERS, filter)} filter`)}
            />
            {monochrome.filter !== 'none' && (
              <NumberControl
                label="Filter density"
                value={monochrome.density}
                min={0}
                max={2}
                step={0.05}
                digits={2}
                start={1}
                onChange={(density) => set({ density }, 'Filter density', 'density')}
                onEnd={endGesture}
              />
            )}
            <p className="hint">Lightness of the hue nodes sets how light each colour becomes.</p>
            <button className="button w-full" onClick={() => void compareAnother(bench)}>
              Compare with another conversion
            </button>
          </>
        )}
      </StepSection>
      <StepSection {...props} title="Toning" steps={['toning']} folded>
        <Select
          label="Toner"
          value={toning.toner}
          options={TONERS}
          onChange={(toner) => tone({ toner }, `Toning: ${named(TONERS, toner)}`)}
        />
        {toning.toner !== 'none' && (
          <ShareControl
            label="Strength"
            value={toning.strength}
            start={0.5}
            onChange={(strength) => tone({ strength }, 'Strength', 'toning')}
            onEnd={endGesture}
          />
        )}
        {toning.toner === 'split' && (
          <>
            {(['darkHue', 'lightHue'] as const).map((key) => (
              <NumberControl
                key={key}
                label={key === 'darkHue' ? 'Shadow hue' : 'Highlight hue'}
                unit="°"
                value={toning[key]}
                min={0}
                max={360}
                step={1}
                digits={0}
                start={key === 'darkHue' ? 250 : 75}
                onChange={(hue) =>
                  tone({ [key]: hue }, key === 'darkHue' ? 'Shadow hue' : 'Highlight hue', key)
                }
                onEnd={endGesture}
              />
            ))}
            <ShareControl
              label="Split point"
              value={toning.meet}
              start={0.55}
              min={0.1}
              max={0.9}
              onChange={(meet) => tone({ meet }, 'Split point', 'meet')}
              onEnd={endGesture}
            />
          </>
        )}
      </StepSection>
    </>
  )
}
