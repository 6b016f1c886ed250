import { useMutation } from '@tanstack/react-query'
import type { Shoot } from '@dunkelkammer/contract'
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react'
import { Ellipsis, ImagePlus, Plus } from 'lucide-react'
import { useState, type FormEvent } from 'react'
import { Link, useNavigate } from 'react-router'
import { api, sentence } from '../api/client'
import { queryClient, renameShoot, useShoots } from '../api/queries'
import { BringInDialog } from '../bringIn/BringInDialog'
import { LabelledInput } from '../controls/LabelledInput'
import { NameField } from '../controls/NameField'
import { useLibrary } from './useLibrary'
import { moment } from '../shell/format'
import { Modal } from '../shell/Modal'
import { ErrorNotice } from '../shell/Notice'
import { Awaited } from '../shell/Awaited'
import { Page } from '../shell/Page'
import { Thumb } from '../shell/Thumb'

/** The assignments, newest first. */
export function ShootsPage() {
  const query = useShoots()
  const shoots = query.data
  const [asking, setAsking] = useState(false)
  const [bringing, setBringing] = useState(false)
  const start = (
    <>
      <button className="button" onClick={() => setAsking(true)}>
        <Plus className="h-4 w-4" aria-hidden /> New shoot
      </button>
      <button className="button" onClick={() => setBringing(true)}>
        <ImagePlus className="h-4 w-4" aria-hidden /> Bring in
      </button>
    </>
  )
  return (
    <Page title="Shoots" actions={start}>
      <Awaited query={query} label="Loading the shoots" />
      <UnknownFiles />
      {shoots?.length === 0 && (
        <p className="text-quiet">No shoots yet. Begin one, then bring in the frames of an assignment.</p>
      )}
      <ul className="flex flex-col gap-3">
        {shoots?.map((shoot) => (
          <ShootLine key={shoot.id} shoot={shoot} />
        ))}
      </ul>
      <BringInDialog open={bringing} onClose={() => setBringing(false)} />
      <NewShoot open={asking} onClose={() => setAsking(false)} />
    </Page>
  )
}

/** One shoot of the list: to be opened, renamed, deleted. */
function ShootLine({ shoot }: { shoot: Shoot }) {
  const [naming, setNaming] = useState(false)
  const [deleting, setDeleting] = useState(false)
  const [problem, setProblem] = useState<string>()
  const count = `${shoot.frameCount} ${shoot.frameCount === 1 ? 'frame' : 'frames'}`
  const remove = useMutation({
    mutationFn: () => api.removeShoot(shoot.id),
    onSuccess: () => queryClient.invalidateQueries({ queryKey: ['shoots'] }),
  })
  return (
    <li className="group flex items-center border border-line bg-panel hover:border-edge">
      <Link to={`/shoots/${shoot.id}`} className="flex min-w-0 flex-1 items-center gap-6 p-4">
        <div className="flex h-[84px] w-[264px] shrink-0 gap-1 overflow-hidden bg-night">
          {shoot.cover.slice(0, 2).map((frame) => (
            <Thumb key={frame.id} frame={frame} className="h-full min-w-0 flex-1 object-cover" />
          ))}
        </div>
        {!naming && (
          <div className="min-w-0 flex-1">
            <h2 className="truncate text-[15px] font-semibold text-bright" title={shoot.name}>
              {shoot.name}
            </h2>
            <p className="mt-1 text-quiet">
              {count}, begun {moment(shoot.created)}
            </p>
            {problem && (
              <p role="alert" className="mt-1 text-info">
                {problem}
              </p>
            )}
          </div>
        )}
      </Link>
      {naming && (
        <div className="flex flex-1">
          <NameField
            label="Name of the shoot"
            name={shoot.name}
            onDone={(name) => {
              setNaming(false)
              setProblem(undefined)
              if (name && name !== shoot.name)
                renameShoot(shoot.id, name).catch((error: unknown) => setProblem(sentence(error)))
            }}
          />
        </div>
      )}
      <Menu>
        <MenuButton className="icon-button mx-3" aria-label={`More for ${shoot.name}`}>
          <Ellipsis className="h-4 w-4" aria-hidden />
        </MenuButton>
        <MenuItems modal={false} anchor="bottom end" className="menu z-40">
          <MenuItem>
            <button className="menu-item" onClick={() => setNaming(true)}>
              Rename
            </button>
          </MenuItem>
          <MenuItem>
            <button className="menu-item" onClick={() => setDeleting(true)}>
              Delete
            </button>
          </MenuItem>
        </MenuItems>
      </Menu>
      <Modal open={deleting} onClose={() => setDeleting(false)} title={`Delete “${shoot.name}”`}>
        <p className="mb-5">
          Its frames, those in its bin among them, will be removed for good, with their versions and with the
          copies of their originals in the library that no other shoot has. Originals that were left where
          they are stay there, and so do delivered files.
        </p>
        {remove.error && <ErrorNotice>{sentence(remove.error)}</ErrorNotice>}
        <div className="flex justify-end gap-2">
          <button className="button" onClick={() => setDeleting(false)}>
            Cancel
          </button>
          <button
            className="button button-main"
            disabled={remove.isPending}
            onClick={() => remove.mutate(undefined, { onSuccess: () => setDeleting(false) })}
          >
            Delete the shoot and {count}
          </button>
        </div>
      </Modal>
    </li>
  )
}

/** Says that there are files in the library's folder that it does not know. */
function UnknownFiles() {
  const { data } = useLibrary()
  const count = data?.unknown.count ?? 0
  if (count === 0) return null
  return (
    <p className="mb-4 border border-edge bg-panel p-3">
      Found {count} {count === 1 ? 'original' : 'originals'} that the library does not know.{' '}
      <Link className="underline hover:text-bright" to="/settings">
        Bring in or set aside
      </Link>
    </p>
  )
}

function NewShoot({ open, onClose }: { open: boolean; onClose(): void }) {
  const [name, setName] = useState('')
  const navigate = useNavigate()
  const create = useMutation({
    mutationFn: (wanted: string) => api.createShoot(wanted),
    onSuccess: (shoot) => {
      void queryClient.invalidateQueries({ queryKey: ['shoots'] })
      void navigate(`/shoots/${shoot.id}`)
    },
  })
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (name.trim()) create.mutate(name.trim())
  }
  return (
    <Modal open={open} onClose={onClose} title="New shoot">
      <form onSubmit={submit} className="flex flex-col gap-4">
        <LabelledInput
          label="Name of the assignment"
          value={name}
          onChange={setName}
          maxLength={300}
          autoFocus
        />
        {create.error && <ErrorNotice>{sentence(create.error)}</ErrorNotice>}
        <div className="flex justify-end gap-2">
          <button type="button" className="button" onClick={onClose}>
            Cancel
          </button>
          <button type="submit" className="button button-main" disabled={!name.trim() || create.isPending}>
            Create shoot
          </button>
        </div>
      </form>
    </Modal>
  )
}
