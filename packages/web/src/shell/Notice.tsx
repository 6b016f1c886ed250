import { CircleAlert } from 'lucide-react'
import type { ReactNode } from 'react'

/** Something went wrong, in words, with what can be done about it. */
export function ErrorNotice({ children, action }: { children: ReactNode; action?: ReactNode }) {
  return (
    <div role="alert" className="flex items-start gap-3 border border-safe bg-panel p-4">
      <CircleAlert className="mt-0.5 h-4 w-4 shrink-0 text-safe" aria-hidden />
      <div className="min-w-0">
        <p className="text-bright">{children}</p>
        {action && <div className="mt-3">{action}</div>}
      </div>
    </div>
  )
}

/** Work in progress, with a share where one is known. It does not turn or blink: drawing that would cost the work time. */
export function Progress({ label, share }: { label: string; share?: number }) {
  return (
    <div role="status" className="flex items-center gap-2 text-quiet">
      <span className="h-1.5 w-1.5 bg-safe" aria-hidden />
      <span>
        {label}
        {share !== undefined && share < 1 && ` ${Math.floor(share * 100)} %`}
      </span>
    </div>
  )
}
