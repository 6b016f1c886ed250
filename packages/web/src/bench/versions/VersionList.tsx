import type { FramePage, Version } from '@dunkelkammer/contract'
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react'
import { Ellipsis, Images, Plus } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { Modal } from '../../shell/Modal'
import { Differences } from '../history/Differences'
import { NameField } from '../../controls/NameField'
import { useBench } from '../state/bench'
import {
  addVersion,
  chooseVersion,
  moveVersion,
  removeVersion,
  renameVersion,
  showVersion,
  takeVersionBack,
} from './actions'

/** The versions of a frame: to be gone to, made, named, ordered, compared and deleted. */
export function VersionList(props: {
  page: Pick<FramePage, 'versions' | 'removed' | 'shown'>
  versionId?: string
  versionLink(id: string): string
  compareLink: string
}) {
  const { page, versionId } = props
  const bench = useBench()
  const { versions, removed } = page
  const [naming, setNaming] = useState<string>()
  const [against, setAgainst] = useState<Version>()
  const current = versions.find((v) => v.id === versionId)
  const shown = page.shown ?? versions[0].id
  return (
    <div className="shrink-0 border-t border-line py-2 pr-1 pl-3">
      <div className="mb-1 flex items-center justify-between pr-1">
        <h2 className="text-[11px] text-quiet">Versions</h2>
        <Menu>
          <MenuButton className="icon-button !h-5 !w-5" aria-label="New version" title="New version">
            <Plus className="h-4 w-4" aria-hidden />
          </MenuButton>
          <MenuItems modal={false} anchor="top end" className="menu z-40">
            <MenuItem>
              <button className="menu-item" onClick={() => void addVersion(bench, 'this')}>
                From this version
              </button>
            </MenuItem>
            <MenuItem>
              <button className="menu-item" onClick={() => void addVersion(bench, 'untouched')}>
                From the untouched frame
              </button>
            </MenuItem>
            {removed.map((r) => (
              <MenuItem key={r.id}>
                <button className="menu-item" onClick={() => void takeVersionBack(bench, r.id)}>
                  Restore “{r.name}”
                </button>
              </MenuItem>
            ))}
          </MenuItems>
        </Menu>
      </div>
      <ul className="max-h-32 overflow-y-auto" aria-label="Versions">
        {versions.map((v, i) => (
          <li key={v.id} className="group flex h-6 items-center">
            {naming === v.id ? (
              <NameField
                label="Name of the version"
                name={v.name}
                onDone={(name) => {
                  setNaming(undefined)
                  if (name && name !== v.name) void renameVersion(bench, v.id, name)
                }}
              />
            ) : (
              <>
                <Link
                  to={props.versionLink(v.id)}
                  onClick={(e) => {
                    if (e.ctrlKey || e.metaKey || e.shiftKey) return
                    e.preventDefault()
                    void chooseVersion(bench, v.id)
                  }}
                  aria-current={v.id === versionId ? 'true' : undefined}
                  title={v.name}
                  className={`min-w-0 flex-1 truncate ${v.id === versionId ? 'text-bright' : 'text-quiet hover:text-bright'}`}
                >
                  {v.name}
                </Link>
                {versions.length > 1 && v.id === shown && (
                  <Images
                    className="h-3 w-3 shrink-0 text-quiet"
                    role="img"
                    aria-label="Shown on the sheet"
                  />
                )}
                <Menu>
                  <MenuButton
                    className="flex h-6 w-5 shrink-0 items-center justify-center text-quiet opacity-0 group-hover:opacity-100 hover:text-bright focus-visible:opacity-100 data-open:opacity-100"
                    aria-label={`More for ${v.name}`}
                  >
                    <Ellipsis className="h-4 w-4" aria-hidden />
                  </MenuButton>
                  <MenuItems modal={false} anchor="top end" className="menu z-40">
                    <MenuItem>
                      <button className="menu-item" onClick={() => setNaming(v.id)}>
                        Rename
                      </button>
                    </MenuItem>
                    {v.id !== versionId && (
                      <MenuItem>
                        <button className="menu-item" onClick={() => setAgainst(v)}>
                          What differs
                        </button>
                      </MenuItem>
                    )}
                    <MenuItem disabled={v.id === shown}>
                      <button className="menu-item" onClick={() => void showVersion(bench, v.id)}>
                        Show on the sheet
                      </button>
                    </MenuItem>
                    <MenuItem disabled={i === 0}>
                      <button className="menu-item" onClick={() => void moveVersion(bench, v.id, -1)}>
                        Move up
                      </button>
                    </MenuItem>
                    <MenuItem disabled={i === versions.length - 1}>
                      <button className="menu-item" onClick={() => void moveVersion(bench, v.id, 1)}>
                        Move down
                      </button>
                    </MenuItem>
                    <MenuItem disabled={versions.length === 1}>
                      <button className="menu-item" onClick={() => void removeVersion(bench, v.id)}>
                        Delete
                      </button>
                    </MenuItem>
                  </MenuItems>
                </Menu>
              </>
            )}
          </li>
        ))}
      </ul>
      {versions.length > 1 && (
        <Link className="mt-1 block text-[11px] text-quiet hover:text-bright" to={props.compareLink}>
          Side by side
        </Link>
      )}
      {against && current && (
        <Modal
          open
          onClose={() => setAgainst(undefined)}
          title={`From “${against.name}” to “${current.name}”`}
        >
          <Differences from={against.development} to={current.development} />
        </Modal>
      )}
    </div>
  )
}
