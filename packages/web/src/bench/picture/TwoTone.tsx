import type { ReactNode } from 'react'

/** Lines over the picture, dark below and light above, so that they are seen on anything. */
export function TwoTone({ children, faint }: { children: ReactNode; faint?: boolean }) {
  return (
    <svg aria-hidden className="pointer-events-none absolute inset-0 h-full w-full" fill="none">
      <g stroke="#000" strokeOpacity={faint ? 0.35 : 0.8} strokeWidth={3}>
        {children}
      </g>
      <g stroke="#fff" strokeOpacity={faint ? 0.6 : 1} strokeWidth={1}>
        {children}
      </g>
    </svg>
  )
}
