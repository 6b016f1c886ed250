import type { AtImport, Shoot } from '@dunkelkammer/contract'
import { useRef, useState, type FormEvent } from 'react'
import { useNavigate } from 'react-router'
import { noteStarted } from './started'
import { api, sentence } from '../api/client'
import { queryClient } from '../api/queries'
import { Choice } from '../controls/Choice'
import { LabelledInput } from '../controls/LabelledInput'
import { megabytes } from '../shell/format'
import { Modal } from '../shell/Modal'
import { ErrorNotice } from '../shell/Notice'
import { groupName, groupsOf, usePresets } from '../presets/shelf'
import { bringIn, droppedFiles, sorted } from './store'

interface Props {
  open: boolean
  onClose(): void
  /** The shoot that they come into; a new one is begun where missing. */
  shoot?: Shoot
  /** Files that were dropped. */
  files?: readonly File[]
}

/** "mill, canal ; mill" as a list without repeats. */
export const keywordsOf = (text: string): string[] => [
  ...new Set(
    text
      .split(/[,;\n]/)
      .map((k) => k.trim())
      .filter(Boolean),
  ),
]

/** Asks for what is to be brought in, where to, and what is written into it. */
export function BringInDialog(props: Props) {
  return (
    <Modal open={props.open} onClose={props.onClose} title="Bring in" width={640}>
      <BringInForm {...props} />
    </Modal>
  )
}

function BringInForm({ shoot, files: dropped, onClose }: Props) {
  const start = shoot?.atImport ?? {}
  const [from, setFrom] = useState<'here' | 'server'>('here')
  const [files, setFiles] = useState<readonly File[]>(dropped ?? [])
  const [path, setPath] = useState('')
  const [keep, setKeep] = useState<'copy' | 'in place'>('copy')
  const [name, setName] = useState('')
  const [creator, setCreator] = useState(start.creator ?? '')
  const [copyright, setCopyright] = useState(start.copyright ?? '')
  const [keywords, setKeywords] = useState(start.keywords?.join(', ') ?? '')
  const [preset, setPreset] = useState(start.preset?.id ?? '')
  const { data: shelf } = usePresets()
  const [problem, setProblem] = useState('')
  const [busy, setBusy] = useState(false)
  const picker = useRef<HTMLInputElement>(null)
  const folder = useRef<HTMLInputElement>(null)
  const navigate = useNavigate()
  const { pictures } = sorted(files)
  const ready = from === 'here' ? pictures.length > 0 : path.trim() !== ''

  const submit = async (event: FormEvent) => {
    event.preventDefault()
    setProblem('')
    setBusy(true)
    const text: AtImport = {
      creator: creator.trim(),
      copyright: copyright.trim(),
      keywords: keywordsOf(keywords),
      ...(preset && { preset: { id: preset, strength: 1 } }),
    }
    try {
      const into = shoot ?? (await api.createShoot(name.trim(), text))
      if (from === 'server') {
        noteStarted((await api.importFolder(into.id, path.trim(), keep, text)).id)
        void queryClient.invalidateQueries({ queryKey: ['jobs'] })
      } else {
        const refused = bringIn(into, files, text)
        if (refused) return setProblem(refused)
      }
      onClose()
      if (!shoot) {
        void queryClient.invalidateQueries({ queryKey: ['shoots'] })
        void navigate(`/shoots/${into.id}`)
      }
    } catch (error) {
      setProblem(sentence(error))
    } finally {
      setBusy(false)
    }
  }
  const take = (list: FileList | null) => {
    setProblem('')
    if (list?.length) setFiles([...list])
  }
  return (
    <form
      onSubmit={(e) => void submit(e)}
      className="flex flex-col gap-4"
      onDragOver={(e) => e.preventDefault()}
      onDrop={(e) => {
        e.preventDefault()
        setProblem('')
        setFrom('here')
        void droppedFiles(e.dataTransfer).then((list) => list.length > 0 && setFiles(list))
      }}
    >
      {!shoot && (
        <LabelledInput label="Name of the shoot" value={name} onChange={setName} maxLength={300} autoFocus />
      )}
      <Choice
        label="Where from"
        value={from}
        options={[
          { value: 'here', label: 'This computer' },
          { value: 'server', label: 'A path on the server' },
        ]}
        onChange={(v) => setFrom(v)}
      />
      {from === 'here' ? (
        <div className="flex items-center gap-3">
          <button type="button" className="button" onClick={() => picker.current?.click()}>
            Choose files
          </button>
          <button type="button" className="button" onClick={() => folder.current?.click()}>
            Choose a folder
          </button>
          <span className="text-quiet" data-testid="chosen-files">
            {files.length === 0
              ? 'or drop them here'
              : `${pictures.length} ${pictures.length === 1 ? 'picture' : 'pictures'}, ${megabytes(pictures.reduce((n, f) => n + f.size, 0))}`}
          </span>
          <input
            ref={picker}
            type="file"
            multiple
            aria-label="Files to bring in"
            className="hidden"
            onChange={(e) => take(e.target.files)}
          />
          <input
            ref={(element) => {
              folder.current = element
              element?.setAttribute('webkitdirectory', '')
            }}
            type="file"
            aria-label="Folder to bring in"
            className="hidden"
            onChange={(e) => take(e.target.files)}
          />
        </div>
      ) : (
        <>
          <LabelledInput
            label="Path of a folder or file on the server’s machine"
            value={path}
            onChange={setPath}
          />
          <Choice
            label="Originals"
            value={keep}
            options={[
              { value: 'copy', label: 'Copy into the library' },
              { value: 'in place', label: 'Leave where they are' },
            ]}
            onChange={(v) => setKeep(v)}
          />
        </>
      )}
      <fieldset className="grid grid-cols-2 gap-4 border-t border-line pt-4">
        <legend className="sr-only">Written into every frame</legend>
        <LabelledInput label="Creator" value={creator} onChange={setCreator} maxLength={300} />
        <LabelledInput label="Copyright" value={copyright} onChange={setCopyright} maxLength={300} />
        <LabelledInput
          label="Keywords, separated by commas"
          value={keywords}
          onChange={setKeywords}
          className="col-span-2"
        />
        <label className="col-span-2 flex flex-col gap-1">
          <span className="text-quiet">Preset</span>
          <select className="field" value={preset} onChange={(e) => setPreset(e.target.value)}>
            <option value="">None</option>
            {groupsOf(shelf?.presets).map(({ group, presets }) => (
              <optgroup key={group} label={groupName(group)}>
                {presets.map((p) => (
                  <option key={p.id} value={p.id}>
                    {p.name}
                  </option>
                ))}
              </optgroup>
            ))}
          </select>
        </label>
      </fieldset>
      {problem && <ErrorNotice>{problem}</ErrorNotice>}
      <div className="flex justify-end gap-2">
        <button type="button" className="button" onClick={onClose}>
          Cancel
        </button>
        <button
          type="submit"
          className="button button-main"
          disabled={!ready || busy || (!shoot && !name.trim())}
        >
          Bring in
        </button>
      </div>
    </form>
  )
}
