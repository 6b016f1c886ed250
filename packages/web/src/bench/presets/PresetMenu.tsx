import type { PresetEntry } from '@dunkelkammer/contract'
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react'
import { Ellipsis } from 'lucide-react'
import { api } from '../../api/client'

/** What can be done with a preset besides applying it. */
export function PresetMenu({ preset, onUpdate }: { preset: PresetEntry; onUpdate(): void }) {
  return (
    <Menu>
      <MenuButton
        className="absolute top-1 right-1 flex h-5 w-5 items-center justify-center bg-night/80 text-quiet opacity-0 group-hover:opacity-100 hover:text-bright focus-visible:opacity-100 data-open:opacity-100"
        aria-label={`More for ${preset.name}`}
      >
        <Ellipsis className="h-4 w-4" aria-hidden />
      </MenuButton>
      <MenuItems modal={false} anchor="bottom end" className="menu z-40">
        <MenuItem>
          <button className="menu-item" onClick={onUpdate}>
            Update from these settings
          </button>
        </MenuItem>
        <MenuItem>
          <a className="menu-item block" download href={api.presetUrl(preset.id)}>
            Export
          </a>
        </MenuItem>
      </MenuItems>
    </Menu>
  )
}
