import {
  changedOf,
  choicesOf,
  FOUND_ANEW,
  FOUND_WORDS,
  portionOf,
  type Development,
  type FoundAnew,
  type Preset,
} from '@dunkelkammer/core'
import { useMemo, useState } from 'react'
import { sentence } from '../api/client'
import { LabelledInput } from '../controls/LabelledInput'
import { Toggle } from '../controls/Toggle'
import { Modal } from '../shell/Modal'
import { Check, ChoiceTree } from './ChoiceTree'
import { usePresets } from './shelf'

/** Makes a preset of a development: what of it, under which name. */
export function PresetDialog(props: {
  development: Development
  /** What it begins with, where one is updated. */
  start?: Pick<Preset, 'name' | 'group' | 'notes' | 'scalable'>
  title: string
  onKeep(preset: Preset): Promise<unknown>
  onClose(): void
}) {
  const { development, start, onClose } = props
  const choices = useMemo(() => choicesOf(development), [development])
  const [chosen, choose] = useState<ReadonlySet<string>>(
    () => new Set(changedOf(development).map((c) => c.key)),
  )
  const [automatic, setAutomatic] = useState<readonly FoundAnew[]>([])
  const [name, setName] = useState(start?.name ?? '')
  const [group, setGroup] = useState(start?.group ?? '')
  const [notes, setNotes] = useState(start?.notes ?? '')
  const [scalable, setScalable] = useState(start?.scalable ?? true)
  const [problem, setProblem] = useState<string>()
  const { data } = usePresets()
  const groups = [...new Set(data?.presets.map((p) => p.group).filter(Boolean))]
  const keep = async () => {
    const portion = {
      ...portionOf(
        development,
        choices.filter((c) => chosen.has(c.key)),
      ),
      automatic: [...automatic],
    }
    try {
      await props.onKeep({ name: name.trim(), group: group.trim(), notes: notes.trim(), scalable, portion })
      onClose()
    } catch (error) {
      setProblem(sentence(error))
    }
  }
  return (
    <Modal open onClose={onClose} title={props.title} width={640}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(e) => {
          e.preventDefault()
          void keep()
        }}
      >
        <div className="grid grid-cols-2 gap-3">
          <LabelledInput label="Name" value={name} onChange={setName} maxLength={80} autoFocus />
          <label className="flex flex-col gap-1">
            <span className="text-quiet">Group</span>
            <input
              className="field"
              list="groups of presets"
              maxLength={80}
              value={group}
              onChange={(e) => setGroup(e.target.value)}
            />
            <datalist id="groups of presets">
              {groups.map((g) => (
                <option key={g} value={g} />
              ))}
            </datalist>
          </label>
        </div>
        <LabelledInput label="Notes" value={notes} onChange={setNotes} maxLength={2000} />
        <ChoiceTree choices={choices} chosen={chosen} onChange={choose} />
        <fieldset className="flex flex-wrap gap-x-4">
          <legend className="text-quiet">Found anew in each picture</legend>
          {FOUND_ANEW.map((what) => (
            <Check
              key={what}
              label={FOUND_WORDS[what]}
              checked={automatic.includes(what)}
              onChange={(on) =>
                setAutomatic((all) => FOUND_ANEW.filter((a) => (a === what ? on : all.includes(a))))
              }
            />
          ))}
        </fieldset>
        <Toggle label="Can be applied at 0 to 150 %" checked={scalable} onChange={setScalable} />
        {problem && (
          <p role="alert" className="text-info">
            {problem}
          </p>
        )}
        <div className="flex justify-end gap-2">
          <button type="button" className="button" onClick={onClose}>
            Cancel
          </button>
          <button
            className="button button-main"
            disabled={!name.trim() || chosen.size + automatic.length === 0}
          >
            Save
          </button>
        </div>
      </form>
    </Modal>
  )
}
