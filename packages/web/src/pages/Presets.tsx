import type { PresetEntry, ReadPresets } from '@dunkelkammer/contract'
import { Download, Eye, EyeOff, Trash2 } from 'lucide-react'
import { useRef, useState } from 'react'
import { api, sentence } from '../api/client'
import { NameField } from '../controls/NameField'
import { SortableList } from '../controls/SortableList'
import { Toggle } from '../controls/Toggle'
import { ImportDialog } from '../presets/ImportDialog'
import { SetList } from '../presets/SetList'
import { groupName, groupsOf, showShelf, usePresets, withShelf } from '../presets/shelf'
import { Awaited } from '../shell/Awaited'
import { Modal } from '../shell/Modal'
import { ErrorNotice } from '../shell/Notice'
import { Page } from '../shell/Page'
import { useFileDrop } from '../shell/useFileDrop'
import { HiddenFiles } from '../controls/HiddenFiles'

interface Reading extends ReadPresets {
  /** Counts up with every reading. */
  key: number
}

/** The presets of the library: sorted, named, taken in and given out. */
export function PresetsPage() {
  const query = usePresets()
  const { data } = query
  const [words, setWords] = useState('')
  const [chosen, choose] = useState<string>()
  const [problem, setProblem] = useState<string>()
  const [removed, setRemoved] = useState<PresetEntry>()
  const [reading, setReading] = useState<Reading>()
  const [restoring, setRestoring] = useState(false)
  const files = useRef<HTMLInputElement>(null)
  const attempt = (work: () => Promise<unknown>) => {
    withShelf(work).then(
      () => setProblem(undefined),
      (error: unknown) => setProblem(sentence(error)),
    )
  }
  const read = async (list: readonly File[]) => {
    const found: ReadPresets['found'] = []
    const problems: string[] = []
    for (const file of list)
      try {
        const one = await api.readPresets(file)
        found.push(...one.found)
        problems.push(...one.problems)
      } catch (error) {
        problems.push(sentence(error))
      }
    if (found.length > 0) setReading({ found, problems, key: Date.now() })
    setProblem(found.length === 0 ? problems.join(' ') : undefined)
  }
  const { over, listeners } = useFileDrop(({ files: dropped }) => void read([...dropped]))
  const groups = groupsOf(data?.presets, words)
  const preset = data?.presets.find((p) => p.id === chosen)
  const shown = groups.flatMap((g) => g.presets)
  const place = (group: readonly PresetEntry[], id: string, to: number) => {
    const all = data!.presets.map((p) => p.id)
    const own = group.map((p) => p.id)
    const moved = own.filter((other) => other !== id)
    moved.splice(to, 0, id)
    // the places of a group are filled anew; those of others stay theirs
    const next = all.map((other) => (own.includes(other) ? moved.shift()! : other))
    showShelf({ ...data!, presets: next.map((other) => data!.presets.find((p) => p.id === other)!) })
    attempt(() => api.orderPresets(next))
  }
  const hide = (group: string) => {
    const hidden = data!.hidden.includes(group)
      ? data!.hidden.filter((g) => g !== group)
      : [...data!.hidden, group]
    attempt(() => api.hideGroups(hidden))
  }
  return (
    <div
      className={`h-full ${over ? 'outline-2 -outline-offset-4 outline-safe outline-dashed' : ''}`}
      {...listeners}
    >
      <Page
        title="Presets"
        actions={
          <>
            <button className="button" onClick={() => files.current?.click()}>
              Import
            </button>
            <a
              className={`button ${shown.length === 0 ? 'pointer-events-none opacity-50' : ''}`}
              download
              href={api.zippedPresetsUrl(shown.map((p) => p.id))}
            >
              {words ? `Export these ${shown.length}` : 'Export all'}
            </a>
            <button
              className="button"
              disabled={!data?.restorable}
              title={data?.restorable ? undefined : 'The presets that ship are as they came'}
              onClick={() => setRestoring(true)}
            >
              Restore shipped presets
            </button>
            <HiddenFiles
              ref={files}
              label="Files of presets"
              accept=".json,.zip"
              multiple
              onFiles={(chosen) => void read(chosen)}
            />
          </>
        }
      >
        {problem && <ErrorNotice>{problem}</ErrorNotice>}
        {removed && (
          <p role="status" className="mb-4 flex items-center gap-3 border border-line px-3 py-2">
            <span className="flex-1">
              “{removed.name}” was deleted. Frames that use it keep their settings.
            </span>
            <button
              className="button !py-0.5"
              onClick={() => {
                attempt(() => api.takePresetBack(removed.id))
                setRemoved(undefined)
              }}
            >
              Undo
            </button>
          </p>
        )}
        {!data && <Awaited query={query} label="Loading the presets" />}
        {data && (
          <div className="grid grid-cols-[360px_1fr] gap-8">
            <div>
              <input
                type="search"
                className="field mb-4"
                aria-label="Find presets"
                placeholder="Find by words"
                value={words}
                onChange={(e) => setWords(e.target.value)}
              />
              {groups.map(({ group, presets }) => {
                const hidden = data.hidden.includes(group)
                const Mark = hidden ? EyeOff : Eye
                return (
                  <section key={group} className="mb-4" aria-label={groupName(group)}>
                    <h2 className="flex items-center justify-between pb-1 text-quiet">
                      {groupName(group)}
                      <button
                        className="icon-button !h-6 !w-6"
                        aria-label={`Show ${groupName(group)} at the bench`}
                        aria-pressed={!hidden}
                        title={hidden ? 'Hidden at the bench' : 'Shown at the bench'}
                        onClick={() => hide(group)}
                      >
                        <Mark className="h-3.5 w-3.5" aria-hidden />
                      </button>
                    </h2>
                    <SortableList
                      label={groupName(group)}
                      items={presets}
                      chosen={chosen}
                      name={(p) => p.name}
                      onPlace={(id, to) => place(presets, id, to)}
                      row={(p) => (
                        <button
                          className={`min-w-0 flex-1 truncate py-1 text-left ${hidden ? 'text-quiet' : ''}`}
                          onClick={() => choose(p.id)}
                        >
                          {p.name}
                          {p.changed && <span className="text-[11px] text-info"> changed</span>}
                        </button>
                      )}
                    />
                  </section>
                )
              })}
              {groups.length === 0 && <p className="text-quiet">No preset holds these words.</p>}
            </div>
            <div className="sticky top-4 self-start">
              {preset ? (
                <Details
                  key={preset.id}
                  preset={preset}
                  onChange={(change) => attempt(() => api.changePreset(preset.id, change))}
                  onRemove={() => {
                    setRemoved(preset)
                    choose(undefined)
                    attempt(() => api.removePreset(preset.id))
                  }}
                />
              ) : (
                <p className="text-quiet">
                  Choose a preset to see what it sets. Files of presets can be dropped on this page.
                </p>
              )}
            </div>
          </div>
        )}
      </Page>
      {reading && (
        <ImportDialog
          key={reading.key}
          found={reading.found}
          problems={reading.problems}
          onClose={() => setReading(undefined)}
        />
      )}
      <Modal open={restoring} onClose={() => setRestoring(false)} title="Restore shipped presets">
        <p className="mb-5">
          Presets that ship come back as they came. Those that you have changed stay beside them, under their
          name with “changed” after it.
        </p>
        <div className="flex justify-end gap-2">
          <button className="button" onClick={() => setRestoring(false)}>
            Cancel
          </button>
          <button
            className="button button-main"
            onClick={() => {
              setRestoring(false)
              attempt(api.restorePresets)
            }}
          >
            Restore
          </button>
        </div>
      </Modal>
    </div>
  )
}

/** What a preset is called, and what it sets. */
function Details(props: {
  preset: PresetEntry
  onChange(change: Partial<Pick<PresetEntry, 'name' | 'group' | 'notes' | 'scalable'>>): void
  onRemove(): void
}) {
  const { preset, onChange, onRemove } = props
  const [naming, setNaming] = useState(false)
  return (
    <article aria-label={preset.name} className="flex flex-col gap-4">
      <div className="flex items-center gap-2">
        <h2 className="flex min-w-0 flex-1 text-base text-bright" onDoubleClick={() => setNaming(true)}>
          {naming ? (
            <NameField
              label="Name of the preset"
              name={preset.name}
              onDone={(name) => {
                setNaming(false)
                if (name && name !== preset.name) onChange({ name: name.slice(0, 80) })
              }}
            />
          ) : (
            <span className="truncate" title={preset.name}>
              {preset.name}
            </span>
          )}
        </h2>
        <button className="button" onClick={() => setNaming(true)}>
          Rename
        </button>
        <a className="button" download href={api.presetUrl(preset.id)}>
          <Download className="h-4 w-4" aria-hidden /> Export
        </a>
        <button
          className="icon-button"
          aria-label={`Delete ${preset.name}`}
          title="Delete"
          onClick={onRemove}
        >
          <Trash2 className="h-4 w-4" aria-hidden />
        </button>
      </div>
      <Words label="Group" value={preset.group} most={80} onWrite={(group) => onChange({ group })} />
      <Words label="Notes" value={preset.notes} most={2000} onWrite={(notes) => onChange({ notes })} />
      <Toggle
        label="Can be applied at 0 to 150 %"
        checked={preset.scalable}
        onChange={(scalable) => onChange({ scalable })}
      />
      <section aria-label="What it sets">
        <h3 className="pb-1 text-quiet">Sets</h3>
        <SetList portion={preset.portion} />
      </section>
    </article>
  )
}

/** Words that are written when their field is left. */
function Words(props: { label: string; value: string; most: number; onWrite(value: string): void }) {
  const { label, value, most, onWrite } = props
  return (
    <label className="flex flex-col gap-1">
      <span className="text-quiet">{label}</span>
      <input
        key={value}
        className="field"
        maxLength={most}
        defaultValue={value}
        onBlur={(e) => {
          const now = e.target.value.trim()
          if (now !== value) onWrite(now)
        }}
        onKeyDown={(e) => {
          if (e.key === 'Enter') e.currentTarget.blur()
          if (e.key !== 'Escape') return
          e.currentTarget.value = value
          e.currentTarget.blur()
        }}
      />
    </label>
  )
}
