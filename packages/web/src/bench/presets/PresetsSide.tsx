import type { PresetEntry } from '@dunkelkammer/contract'
import type { View } from '@dunkelkammer/engine/browser'
import { atom, useAtom, useAtomValue } from 'jotai'
import { Plus, X } from 'lucide-react'
import { memo, useMemo, useState } from 'react'
import { api } from '../../api/client'
import { Toggle } from '../../controls/Toggle'
import { PresetDialog } from '../../presets/PresetDialog'
import { groupName, groupsOf, usePresets, withShelf } from '../../presets/shelf'
import { SetList } from '../../presets/SetList'
import { Awaited } from '../../shell/Awaited'
import type { Offer } from '../offers/offer'
import { OfferTile } from '../offers/OfferTile'
import { usePreviews } from '../offers/usePreviews'
import { developmentAtom, dialogAtom, pictureAtom, trialAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import type { Bench } from '../state/types'
import { storedSwitch } from '../state/stored'
import { AppliedPresets } from './AppliedPresets'
import { applyPreset, withPreset } from './apply'
import { presetsOpenAtom } from './open'
import { PresetMenu } from './PresetMenu'

const largeAtom = storedSwitch('presets shown large', ['yes', 'no'], true)
/** Groups that are folded in this window. */
const foldedAtom = atom<ReadonlySet<string>>(new Set<string>())

type PresetOffer = Offer & { preset: PresetEntry }

const offerOf = (preset: PresetEntry): PresetOffer => ({
  ...{ key: preset.id, name: preset.name, about: preset.notes, group: preset.group, preset },
  apply: (d) => withPreset(d, preset, 1, 'tried'),
})

/** Shows a preset's offer on the picture, large where that is wanted; nothing to stop. */
function tryOffer(bench: Bench, offer: PresetOffer | undefined): void {
  const large = bench.get(largeAtom)
  bench.set(trialAtom, offer && large ? offer.apply(bench.get(developmentAtom)) : undefined)
}

/** One preset. There are many, and previews come one by one: each is drawn anew for its own alone. */
const PresetTile = memo(function PresetTile(props: {
  offer: PresetOffer
  view?: View
  onTell(preset: PresetEntry): void
  onUpdate(preset: PresetEntry): void
}) {
  const { offer, view, onTell, onUpdate } = props
  const bench = useBench()
  return (
    <OfferTile
      offer={offer}
      view={view}
      tools={<PresetMenu preset={offer.preset} onUpdate={() => onUpdate(offer.preset)} />}
      onLook={() => {
        onTell(offer.preset)
        tryOffer(bench, offer)
      }}
      onTake={() => {
        bench.set(trialAtom, undefined)
        void applyPreset(bench, offer.preset)
      }}
    />
  )
})

/** The presets on this very picture, and those that are applied. */
export function PresetsSide() {
  const bench = useBench()
  const query = usePresets()
  const picture = useAtomValue(pictureAtom)
  const development = useAtomValue(developmentAtom)
  const [, setOpen] = useAtom(presetsOpenAtom)
  const [large, setLarge] = useAtom(largeAtom)
  const [folded, setFolded] = useAtom(foldedAtom)
  const [words, setWords] = useState('')
  const [updated, update] = useState<PresetEntry>()
  const [told, tell] = useState<PresetEntry>()
  const groups = useMemo(() => {
    const { presets, hidden = [] } = query.data ?? {}
    return groupsOf(presets, words)
      .filter(({ group }) => words !== '' || !hidden.includes(group))
      .map(({ group, presets: some }) => ({ group, offers: some.map(offerOf) }))
  }, [query.data, words])
  const isFolded = (group: string) => words === '' && folded.has(group)
  const offers = groups.flatMap((g) => (isFolded(g.group) ? [] : g.offers))
  const views = usePreviews(picture, development, offers)
  const leave = () => {
    tell(undefined)
    tryOffer(bench, undefined)
  }
  const fold = (group: string) => {
    const next = new Set(folded)
    if (!next.delete(group)) next.add(group)
    setFolded(next)
  }
  return (
    <aside aria-label="Presets" className="flex w-[320px] shrink-0 flex-col border-l border-line bg-panel">
      <div className="flex items-center gap-3 border-b border-line py-2 pr-2 pl-4">
        <h2 className="flex-1 font-semibold text-bright">Presets</h2>
        <button
          className="icon-button"
          aria-label="New preset from these settings"
          title="New preset from these settings (Alt+K)"
          onClick={() => bench.set(dialogAtom, 'preset')}
        >
          <Plus className="h-4 w-4" aria-hidden />
        </button>
        <button className="icon-button" aria-label="Close the presets" onClick={() => setOpen(false)}>
          <X className="h-4 w-4" aria-hidden />
        </button>
      </div>
      <div className="flex items-center gap-3 border-b border-line py-1 pr-4 pl-2">
        <input
          type="search"
          className="field min-w-0 flex-1"
          aria-label="Find presets"
          placeholder="Find by words"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
        <Toggle label="Show large" checked={large} onChange={setLarge} />
      </div>
      <div
        className="min-h-0 flex-1 overflow-y-auto px-4 pb-4"
        tabIndex={-1}
        onPointerLeave={leave}
        onBlur={(e) => {
          if (!e.currentTarget.contains(e.relatedTarget)) leave()
        }}
      >
        {!query.data && <Awaited query={query} label="Loading the presets" />}
        {groups.map(({ group, offers: own }) => (
          <section key={group} aria-label={`Presets: ${groupName(group)}`}>
            <h3>
              <button
                className="w-full py-2 text-left text-quiet hover:text-bright"
                aria-expanded={!isFolded(group)}
                disabled={words !== ''}
                onClick={() => fold(group)}
              >
                {groupName(group)} <span className="text-[11px]">{own.length}</span>
              </button>
            </h3>
            {!isFolded(group) && (
              <div className="grid grid-cols-2 gap-2">
                {own.map((o) => (
                  <PresetTile key={o.key} offer={o} view={views.get(o.key)} onTell={tell} onUpdate={update} />
                ))}
              </div>
            )}
          </section>
        ))}
        {query.data && groups.length === 0 && (
          <p className="py-3 text-quiet">
            {words ? 'No preset holds these words.' : 'All groups are hidden. Show them on the page Presets.'}
          </p>
        )}
      </div>
      {updated && (
        <PresetDialog
          development={development}
          start={updated}
          title={`Update “${updated.name}”`}
          onKeep={(preset) => withShelf(() => api.changePreset(updated.id, preset))}
          onClose={() => update(undefined)}
        />
      )}
      <AppliedPresets presets={query.data?.presets} />
      <section aria-label="What it sets" className="h-[112px] overflow-y-auto border-t border-line px-4 py-2">
        {told ? (
          <>
            <h3 className="pb-1 text-bright">{told.name}</h3>
            <SetList portion={told.portion} />
          </>
        ) : (
          <p className="text-[12px] text-quiet">Rest on a preset to see what it sets. A click applies it.</p>
        )}
      </section>
    </aside>
  )
}
