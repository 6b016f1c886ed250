import type { ReactNode } from 'react'
import { NavLink } from 'react-router'
import { BringInLine } from '../bringIn/BringInLine'

const LINKS = [
  ['/', 'Shoots'],
  ['/deliveries', 'Deliveries'],
  ['/presets', 'Presets'],
  ['/lenses', 'Lenses'],
  ['/settings', 'Settings'],
] as const

/** The line along the top of every page but the bench. */
export function TopLine({ children }: { children?: ReactNode }) {
  return (
    <header className="flex h-12 shrink-0 items-center gap-8 border-b border-line bg-panel px-6">
      <span className="font-semibold tracking-wide text-bright">Dunkelkammer</span>
      <nav aria-label="Pages" className="flex gap-5">
        {LINKS.map(([to, label]) => (
          <NavLink
            key={to}
            to={to}
            end
            className={({ isActive }) =>
              `border-b-2 py-3 ${isActive ? 'border-safe text-bright' : 'border-transparent text-quiet hover:text-bright'}`
            }
          >
            {label}
          </NavLink>
        ))}
      </nav>
      {children}
    </header>
  )
}

/** Frame of the plain pages. */
export function Page({
  title,
  actions,
  children,
}: {
  title: ReactNode
  actions?: ReactNode
  children: ReactNode
}) {
  return (
    <div className="flex h-full flex-col">
      <TopLine>
        <BringInLine />
      </TopLine>
      <main className="min-h-0 flex-1 overflow-y-auto">
        <div className="mx-auto max-w-6xl px-6 py-8">
          <div className="mb-6 flex min-h-9 items-center justify-between gap-6">
            <h1 className="min-w-0 truncate text-xl font-semibold text-bright">{title}</h1>
            <div className="flex shrink-0 gap-2">{actions}</div>
          </div>
          {children}
        </div>
      </main>
    </div>
  )
}
