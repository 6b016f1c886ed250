import { MARK_STRAIGHT } from './tools'
import type { FrameMetadata, LensChoice, LensSettings } from '@dunkelkammer/core'
import type { LensFinding } from '@dunkelkammer/engine/browser'
import { useState } from 'react'
import { useLenses } from '../../api/queries'
import { Choice } from '../../controls/Choice'
import { numbersOf, StepNumbers } from '../steps/StepNumbers'
import { StepSection } from '../steps/StepSection'
import { Toggle } from '../../controls/Toggle'
import { focalWord } from '../../pages/lensWords'
import {
  bendByLines,
  findingAtom,
  keepProfile,
  lookingAtom,
  markedAtom,
  metadataAtom,
  readyAtom,
  straightenedAtom,
  unmarkEdges,
} from './squaring'
import { useAtomValue } from 'jotai'
import { useBench } from '../state/bench'
import { changer, useSection } from '../steps/props'

const CHOICES: readonly { value: LensChoice; label: string }[] = [
  { value: 'off', label: 'Off' },
  { value: 'automatic', label: 'Automatic' },
  { value: 'profile', label: 'Profile' },
  { value: 'hand', label: 'Manual' },
]
const SHARES = numbersOf('lens', 'distortion', 'fallOff')
const HAND = numbersOf('lens', 'bend', 'edge')

/** What a finding knows, in words. */
export function knows({ has }: LensFinding): string {
  const parts = [
    has.distortion && 'distortion',
    has.fringes && 'fringes',
    has.fallOff && 'fall-off',
    has.shading && 'gain maps',
  ].filter((p) => p !== false)
  if (parts.length === 0) return 'nothing'
  return parts.length === 1 ? parts[0] : `${parts.slice(0, -1).join(', ')} and ${parts[parts.length - 1]}`
}

/** What was found for the lens, and why; or that nothing was. */
export function findingWords(
  finding: LensFinding | undefined,
  settings: LensSettings,
  metadata?: FrameMetadata,
): string {
  if (!finding) return 'Looking up the lens.'
  const lens = metadata?.lens
  if (finding.from === 'file') return `The file brings its own correction: ${knows(finding)}.`
  if (finding.from === 'profile') {
    const why =
      settings.choice === 'automatic' ? (lens ? 'found by the lens’s name' : 'found by the camera') : 'chosen'
    return `${finding.name}, ${why}. It knows ${knows(finding)}.`
  }
  if (settings.choice === 'profile') return 'No profile is chosen yet.'
  return lens
    ? `No profile is known for “${lens}”. Choose one, or mark lines that should be straight.`
    : 'The file does not name its lens. Choose a profile, or mark lines that should be straight.'
}

export function LensSection() {
  const props = useSection('lens')
  const { development, tool, toggleTool } = props
  const bench = useBench()
  const metadata = useAtomValue(metadataAtom)
  const finding = useAtomValue(findingAtom)
  const ready = useAtomValue(readyAtom)
  const looking = useAtomValue(lookingAtom)
  const { lens } = development.steps
  const set = changer(props, 'lens')
  const equal = metadata?.focalLength35
  return (
    <StepSection {...props} title="Lens" steps={['lens']}>
      {metadata && (
        <p className="mb-2 truncate text-quiet" title={metadata.lens}>
          {metadata.lens ?? 'Unknown lens'}
          {metadata.focalLength !== undefined && `, ${focalWord(metadata.focalLength)}`}
          {equal !== undefined &&
            equal !== metadata.focalLength &&
            ` (as ${Math.round(equal)} mm on 35 mm film)`}
        </p>
      )}
      <Choice
        label="Lens correction"
        value={lens.choice}
        options={CHOICES}
        className="[&>*]:!px-1"
        onChange={(choice) => set({ choice }, CHOICE_LABELS[choice])}
      />
      {(lens.choice === 'automatic' || lens.choice === 'profile') && (
        <p className="mt-2 text-[12px] text-quiet" role="status">
          {findingWords(finding, lens, metadata)}
        </p>
      )}
      {lens.choice === 'profile' && (
        <ProfileSearch chosen={lens.profile} onChoose={(id) => set({ profile: id }, 'Lens profile')} />
      )}
      {(lens.choice === 'automatic' || lens.choice === 'profile') && finding && finding.from !== 'none' && (
        <div className="mt-1">
          <StepNumbers
            {...props}
            step="lens"
            numbers={SHARES.filter(({ name }) =>
              name === 'distortion' ? finding.has.distortion : finding.has.fallOff || finding.has.shading,
            )}
          />
          {finding.fisheye && (
            <Toggle
              label="Straighten fisheye"
              checked={lens.straighten}
              onChange={(straighten) =>
                set({ straighten }, straighten ? 'Fisheye straightened' : 'Fisheye not straightened')
              }
            />
          )}
        </div>
      )}
      {lens.choice === 'hand' && (
        <>
          <div className="mt-1">
            <StepNumbers {...props} step="lens" numbers={HAND} />
          </div>
          <div className="mt-1 grid grid-cols-2 gap-1">
            <button
              className="button"
              aria-pressed={tool === MARK_STRAIGHT}
              disabled={!ready}
              onClick={() => toggleTool(MARK_STRAIGHT)}
            >
              {tool === MARK_STRAIGHT ? 'Draw along edges' : 'Mark lines'}
            </button>
            <button className="button" disabled={!ready} onClick={() => void bendByLines(bench)}>
              {looking === 'distortion' ? 'Analysing' : 'From detected lines'}
            </button>
          </div>
          <FitWords />
          <KeepProfile />
        </>
      )}
    </StepSection>
  )
}

const CHOICE_LABELS: Record<LensChoice, string> = {
  off: 'Lens correction off',
  automatic: 'Lens correction automatic',
  profile: 'Lens correction by profile',
  hand: 'Lens correction manual',
}

function FitWords() {
  const bench = useBench()
  const found = useAtomValue(straightenedAtom)
  const marked = useAtomValue(markedAtom)
  if (!found) return null
  const count = marked.length
  return (
    <p className="mt-2 flex items-baseline justify-between gap-2 text-[12px] text-quiet" role="status">
      <span>
        {count ? `${count} ${count === 1 ? 'line' : 'lines'} marked` : 'Lines of the picture'}: off by{' '}
        {found.before.toFixed(1)} px, now by {found.after.toFixed(1)} px.
      </span>
      {count > 0 && (
        <button className="shrink-0 underline hover:text-bright" onClick={() => unmarkEdges(bench)}>
          Clear lines
        </button>
      )}
    </p>
  )
}

function KeepProfile() {
  const bench = useBench()
  const { development } = useSection('lens')
  const metadata = useAtomValue(metadataAtom)
  const ready = useAtomValue(readyAtom)
  const { bend, edge } = development.steps.lens
  const [name, setName] = useState(metadata?.lens ?? '')
  if (bend === 0 && edge === 0) return null
  return (
    <form
      className="mt-2 flex gap-1"
      onSubmit={(e) => {
        e.preventDefault()
        if (name.trim()) void keepProfile(bench, name)
      }}
    >
      <input
        className="field min-w-0 flex-1 py-1"
        aria-label="Name of the profile"
        placeholder="Name of the lens"
        maxLength={200}
        value={name}
        onChange={(e) => setName(e.target.value)}
      />
      <button className="button" disabled={!ready || !name.trim()}>
        Save as profile
      </button>
    </form>
  )
}

/** Chooses one profile of the library by words of its name. */
function ProfileSearch({ chosen, onChoose }: { chosen: string; onChoose(id: string): void }) {
  const [words, setWords] = useState('')
  const { data } = useLenses(words)
  return (
    <div className="mt-2">
      <input
        className="field py-1"
        type="search"
        aria-label="Search lens profiles"
        placeholder={data ? `Search ${data.all} profiles` : 'Search profiles'}
        value={words}
        onChange={(e) => setWords(e.target.value)}
      />
      {data && (
        <ul className="mt-1 max-h-40 overflow-y-auto border border-line" aria-label="Lens profiles">
          {data.lenses.slice(0, 60).map((l) => (
            <li key={l.id}>
              <button
                className={`block w-full px-2 py-1 text-left text-[12px] hover:bg-raised ${l.id === chosen ? 'text-bright outline-1 -outline-offset-1 outline-safe' : 'text-text'}`}
                aria-pressed={l.id === chosen}
                onClick={() => onChoose(l.id)}
              >
                <span className="block truncate" title={`${l.maker} ${l.model}`}>
                  {l.model}
                </span>
                <span className="block truncate text-quiet">
                  {l.maker}, factor {l.crop.toFixed(2)}
                </span>
              </button>
            </li>
          ))}
          {data.count === 0 && <li className="px-2 py-2 text-quiet">No profile of that name.</li>}
          {data.count > 60 && <li className="px-2 py-1 text-[12px] text-quiet">{data.count - 60} more</li>}
        </ul>
      )}
    </div>
  )
}
