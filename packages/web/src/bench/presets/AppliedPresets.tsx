import type { Preset } from '@dunkelkammer/core'
import type { PresetEntry } from '@dunkelkammer/contract'
import { useAtomValue } from 'jotai'
import { X } from 'lucide-react'
import { ShareControl } from '../../controls/ShareControl'
import { scales } from '../../presets/shelf'
import { deskAtom, standAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { changeStrength, takeOff } from './apply'

/** The presets that this version has, each with how far it is applied. It keeps its room: nothing may slip under the pointer. */
export function AppliedPresets({ presets }: { presets?: readonly PresetEntry[] }) {
  const bench = useBench()
  const desk = useAtomValue(deskAtom)
  // what is applied is in the log
  useAtomValue(standAtom)
  const applied = desk.applied()
  return (
    <section
      aria-label="Applied presets"
      className="h-[116px] shrink-0 overflow-y-auto border-t border-line px-4 py-2"
    >
      <h3 className="pb-1 text-quiet">Applied</h3>
      {applied.length === 0 && <p className="text-[12px] text-quiet">No preset is applied.</p>}
      <ul className="flex flex-col gap-1">
        {applied.map((mark) => {
          const preset: Preset | undefined = presets?.find((p) => p.id === mark.preset)
          return (
            <li key={mark.application} className="flex items-start gap-2">
              <div className="min-w-0 flex-1">
                {preset && scales(preset) ? (
                  <ShareControl
                    label={mark.name}
                    value={mark.strength}
                    start={1}
                    max={1.5}
                    onChange={(strength) => void changeStrength(bench, mark, preset, strength)}
                    onEnd={bench.endGesture}
                  />
                ) : (
                  <p className="truncate py-1">{mark.name}</p>
                )}
              </div>
              <button
                className="icon-button !h-6 !w-6 shrink-0"
                aria-label={`Take off ${mark.name}`}
                title="Take off"
                onClick={() => void takeOff(bench, mark)}
              >
                <X className="h-3.5 w-3.5" aria-hidden />
              </button>
            </li>
          )
        })}
      </ul>
    </section>
  )
}
