import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react'
import { Check, ChevronDown } from 'lucide-react'
import { referenceKey, referenceName, type Reference } from './reference'

/** Chooses what the development is compared with. */
export function BeforeMenu(props: {
  value: Reference
  options: readonly Reference[]
  onChange(reference: Reference): void
}) {
  const { value, options } = props
  const now = referenceKey(value)
  return (
    <Menu>
      <MenuButton
        className="button flex w-20 items-center justify-between gap-1 !px-1.5 !py-0.5"
        aria-label={`Compared with: ${referenceName(value)}`}
        title="What the picture is compared with"
      >
        <span className="truncate">{referenceName(value)}</span>
        <ChevronDown className="h-3.5 w-3.5 shrink-0 text-quiet" aria-hidden />
      </MenuButton>
      <MenuItems modal={false} anchor="top end" className="menu z-40 max-w-80">
        {options.map((option) => {
          const key = referenceKey(option)
          return (
            <MenuItem key={key}>
              <button className="menu-item flex items-center gap-2" onClick={() => props.onChange(option)}>
                <Check className={`h-3.5 w-3.5 shrink-0 ${key === now ? '' : 'invisible'}`} aria-hidden />
                <span className="truncate">{referenceName(option)}</span>
              </button>
            </MenuItem>
          )
        })}
      </MenuItems>
    </Menu>
  )
}
